package barefoot

import (
	"math/rand/v2"
	"strconv"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/load"
)

// made draws a runner of the transition: whatever the rules speak of may be so.
func made(rng *rand.Rand) Records {
	r := open(rng.IntN(320))
	r.Plan.Aim = Aims[rng.IntN(3)]
	r.Plan.Cap = 1 + rng.IntN(30)
	r.Strict = rng.IntN(4) == 0
	r.Plan.Start = At{Stage: rng.IntN(r.Plan.Last() + 1)}
	if r.Plan.Start.Stage >= RunWalk {
		r.Plan.Start.Minutes = 1 + rng.IntN(6)
	}
	r.Weeks = weeksOf(monday, 24, r.Weeks[0].Planned, func(int) load.Dial { return load.Dials[rng.IntN(3)] })
	for i := range r.Weeks {
		r.Weeks[i].Planned = max(0, r.Weeks[i].Planned+rng.IntN(41)-20)
		r.Weeks[i].Ran = r.Weeks[i].Planned
	}
	r.Rescreened = monday.Add(rng.IntN(200) - 20)
	r.Gate, r.Allowed = gateAt(draw(rng, 4)), draw(rng, 6)
	return r
}

// draw is mostly the last stage, one in so many times any.
func draw(rng *rand.Rand, seldom int) int {
	if rng.IntN(seldom) == 0 {
		return rng.IntN(7) - 1
	}
	return Share
}

// told adds what a day may tell.
func told(r *Records, s State, rng *rand.Rand, wild bool) {
	seq := int64(r.Today.Sub(monday)+1) * 10
	if rng.IntN(10) > 0 {
		m := Morning{On: r.Today, All: rng.IntN(15) > 0, Seq: seq, Where: "calf, left"}
		if wild && rng.IntN(6) == 0 {
			m.Over = float64(rng.IntN(11)) / 2
			m.Pain = min(10, int(m.Over)+rng.IntN(4))
			m.Sore = rng.IntN(6)
		}
		r.Mornings = append(r.Mornings, m)
	}
	if rng.IntN(12) == 0 {
		return
	}
	goes := goes(s, r.Today, seq+1)
	for _, l := range goes {
		if wild {
			if rng.IntN(12) == 0 {
				l.Pain = strconv.Itoa(rng.IntN(11))
			}
			if rng.IntN(40) == 0 {
				l.Pain = ""
			}
			if rng.IntN(40) == 0 {
				l.Skin = []string{"red", "broken", ""}[rng.IntN(3)]
			}
			if rng.IntN(40) == 0 {
				l.Minutes, l.Contacts = l.Minutes*2, l.Contacts*2
			}
			if rng.IntN(60) == 0 {
				l.Stage = rng.IntN(6)
			}
		}
		r.Logs = append(r.Logs, l)
	}
}

// turn changes what stands beside the reports.
func turn(r *Records, rng *rand.Rand) {
	if r.Today.Weekday() == 0 {
		if rng.IntN(8) == 0 {
			r.Gate = gateAt(draw(rng, 4))
		}
		if rng.IntN(8) == 0 {
			was := r.Allowed
			if r.Allowed = draw(rng, 6); r.Allowed > was && rng.IntN(2) == 0 {
				r.Closed = append(r.Closed, Closed{string(r.Today), r.Today, rng.IntN(30), rng.IntN(4) == 0})
			}
		}
		r.Volume = load.States[max(0, rng.IntN(8)-5)]
	}
	r.Lead = load.LeadOn(r.Weeks, r.Today)
	if old := r.Today.Add(-60); len(r.Logs) > 0 && r.Logs[0].On < old { // as records are loaded
		r.Logs = r.Logs[1:]
	}
	if old := r.Today.Add(-60); len(r.Mornings) > 0 && r.Mornings[0].On < old {
		r.Mornings = r.Mornings[1:]
	}
}

// In 100,000 weeks nobody is taken further than the gate and what is allowed, or faster than the limits; a report that hurts always
// wins; and a worse record never gives more.
func TestBareWeeks(t *testing.T) {
	const runners, weeks = 5_000, 20
	var seen sync.Map
	n := runners
	if testing.Short() {
		n = 100
	}
	for half := range 2 {
		t.Run(strconv.Itoa(half), func(t *testing.T) {
			t.Parallel()
			rng := rand.New(rand.NewPCG(2026, uint64(half)))
			for range n / 2 {
				lives(t, rng, weeks, &seen)
			}
		})
	}
	t.Cleanup(func() {
		for _, v := range []Verdict{Up, Hold, Back, Rest, Return, End} {
			_, ok := seen.Load(v)
			assert.True(t, ok, v)
		}
	})
}

func lives(t *testing.T, rng *rand.Rand, weeks int, seen *sync.Map) {
	t.Helper()
	r := made(rng)
	wild := rng.IntN(3) > 0
	s := r.State()
	for range weeks * 7 {
		turn(&r, rng)
		told(&r, s, rng, wild)
		if r.Today.Weekday()%3 == 0 {
			s = r.State()
			seen.Store(s.Verdict, true)
			restated(t, r, s)
			worse(t, r, s, rng)
			if s.Verdict != Hold && s.Verdict != End && rng.IntN(4) > 0 {
				m := Move{On: r.Today, Verdict: s.Verdict, From: s.At, To: s.To, Saw: s.Saw, Two: rng.IntN(3) == 0}
				for _, c := range r.Closed {
					m.Signs = append(m.Signs, c.ID)
				}
				r.Moves = append(r.Moves, m)
				s = r.State()
			}
		}
		r.Today = r.Today.Add(1)
	}
}

// restated says the rules again in its own words.
func restated(t *testing.T, r Records, s State) {
	t.Helper()
	running := float64(s.Weekly)
	most := map[int]int{Home: 15, Walking: 10, Strength: 0, Bouncing: 0}
	require.LessOrEqual(t, s.Now.Stage, max(None, min(r.Gate.Cap, r.Allowed)))
	require.False(t, s.At.Before(s.Now), "%+v after %+v", s.Now, s.At)
	if s.Now.Stage >= Home && s.Now.Stage < RunWalk {
		require.LessOrEqual(t, s.Dose.Minutes, most[s.Now.Stage])
		require.LessOrEqual(t, s.Dose.Contacts, 100)
	}
	if s.Now.Stage == Share && running > 0 {
		require.LessOrEqual(t, float64(s.Now.Minutes), max(1, running*float64(r.Plan.Cap)/100))
	}
	saw, since := int64(-1), r.Plan.On
	for _, m := range r.Moves {
		saw, since = max(saw, m.Saw), m.On
	}
	hurts, strict := false, 5
	if r.Strict {
		strict = 2
	}
	for _, l := range r.Logs {
		pain, err := strconv.Atoi(l.Pain)
		hurts = hurts || err == nil && l.Seq > saw && pain > strict
	}
	for _, m := range r.Mornings {
		hurts = hurts || m.Seq > saw && m.On >= r.Plan.On && (m.Over >= 2 || m.Pain >= 7)
	}
	if hurts && s.At.Stage >= Home {
		require.True(t, s.Now.Before(s.At), "a report that hurts goes back: %+v", s)
		require.Contains(t, []Verdict{Back, Rest}, s.Verdict)
	}
	if s.Verdict != Up && s.Verdict != Return {
		require.False(t, s.At.Before(s.To))
		return
	}
	require.False(t, hurts)
	restatedUp(t, r, s, since)
}

// restatedUp says what a move up asks for.
func restatedUp(t *testing.T, r Records, s State, since body.Date) {
	t.Helper()
	running := float64(s.Weekly)
	require.GreaterOrEqual(t, r.Today.Sub(since), 7)
	require.LessOrEqual(t, s.To.Stage, min(r.Gate.Cap, r.Allowed))
	require.LessOrEqual(t, s.To.Stage, s.At.Stage+1)
	require.LessOrEqual(t, s.To.Stage, r.Plan.Last())
	answered := 0
	for _, m := range r.Mornings {
		if age := r.Today.Sub(m.On); age >= 0 && age < 7 {
			if m.All {
				answered++
			}
			require.Less(t, m.Over, 2.0)
		}
	}
	require.GreaterOrEqual(t, answered, 5)
	for _, l := range r.Logs {
		if pain, err := strconv.Atoi(l.Pain); err == nil && r.Today.Sub(l.On) < 7 {
			require.LessOrEqual(t, pain, 2)
		}
	}
	if s.Verdict == Return {
		require.Equal(t, At{}, s.To)
		return
	}
	require.Equal(t, load.Barefoot, r.Lead.Dial)
	require.Equal(t, load.Usual, r.Volume)
	weeks := map[At]int{{Stage: Walking, Step: 1}: 2, {Stage: Strength}: 2, {Stage: Strength, Step: 1}: 2}[s.At]
	if s.At.Stage == RunWalk {
		weeks = 3
	}
	require.GreaterOrEqual(t, r.Today.Sub(since), 7*weeks)
	switch {
	case s.To.Stage == RunWalk:
		require.LessOrEqual(t, s.To.Minutes, 5)
		require.LessOrEqual(t, float64(s.To.Minutes), max(1, running/20))
	case s.To.Stage == Share && r.Plan.Aim == ThinShoe:
		require.LessOrEqual(t, float64(s.To.Minutes-s.At.Minutes), max(1, running/10))
	case s.To.Stage == Share:
		require.LessOrEqual(t, s.To.Minutes-s.At.Minutes, min(5, max(1, s.At.Minutes/10)))
	}
	if s.To.Stage == Share {
		require.LessOrEqual(t, float64(s.To.Minutes), max(1, running*float64(r.Plan.Cap)/100))
	}
	require.Less(t, s.At.Dose().Contacts, 101)
}

// worse makes one thing of a record worse: it never gives more.
func worse(t *testing.T, r Records, was State, rng *rand.Rand) {
	t.Helper()
	r.Logs, r.Mornings = append([]Log{}, r.Logs...), append([]Morning{}, r.Mornings...)
	n := rng.IntN(9)
	switch {
	case n == 0 && len(r.Logs) > 0: // told and more; what was not told is unknown, and 1 is more than unknown
		l := &r.Logs[rng.IntN(len(r.Logs))]
		if pain, err := strconv.Atoi(l.Pain); err == nil {
			l.Pain = strconv.Itoa(min(10, pain+1+rng.IntN(8)))
		}
	case n == 1 && len(r.Logs) > 0:
		r.Logs[rng.IntN(len(r.Logs))].Skin = "broken"
	case n == 2 && len(r.Logs) > 0: // a pain of 0 that was not told earns nothing
		if l := &r.Logs[rng.IntN(len(r.Logs))]; l.Pain == "0" {
			l.Pain = ""
		}
	case n == 3 && len(r.Mornings) > 0:
		m := &r.Mornings[rng.IntN(len(r.Mornings))]
		by := 1 + rng.IntN(6)
		m.Over, m.Pain, m.Sore = m.Over+float64(by), min(10, m.Pain+by), min(10, m.Sore+rng.IntN(4))
	case n == 4 && len(r.Mornings) > 0:
		r.Mornings[rng.IntN(len(r.Mornings))].All = false
	case n == 5:
		r.Gate = gateAt(min(r.Gate.Cap, rng.IntN(7)-1))
	case n == 6:
		r.Allowed = min(r.Allowed, rng.IntN(7)-1)
	case n == 7:
		r.Volume = load.High
	case n == 8:
		r.Closed = append(r.Closed, Closed{"late", r.Today.Add(-rng.IntN(5)), rng.IntN(30), false})
	}
	s := r.State()
	require.False(t, was.Now.Before(s.Now), "now %+v, was %+v", s.Now, was.Now)
	require.False(t, was.To.Before(s.To), "%d: to %+v, was %+v; %+v", n, s.To, was.To, was.Waits)
}
