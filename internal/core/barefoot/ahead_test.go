package barefoot

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
)

const monday = body.Date("2026-03-02")

// weeksOf are weeks of running before and after a day, each of so many minutes; lead says who leads each of them.
func weeksOf(from body.Date, n, minutes int, lead func(i int) load.Dial) []load.Week {
	out := []load.Week{}
	for i := -8; i < n; i++ {
		out = append(out, load.Week{From: from.Monday().Add(7 * i), Planned: minutes, Ran: minutes, Known: i < 0, Lead: lead(i)})
	}
	return out
}

func always(load.Dial) func(int) load.Dial { return func(int) load.Dial { return load.Barefoot } }

// gateAt is a gate that leaves a stage.
func gateAt(stage int) Gate { return Gate{Cap: stage, Tested: stage} }

// open is a runner whom nothing holds back.
func open(minutes int) Records {
	return Records{Plan: Plan{On: monday, Aim: BareFeet, Cap: 20}, Weeks: weeksOf(monday, 80, minutes, always(load.Barefoot)),
		Gate: gateAt(Share), Allowed: Share, Volume: load.Usual, Rescreened: "2030-01-01", Today: monday}
}

// lived has a runner live quietly day after day, doing what holds, the coach taking every move up as it comes; it gives the days of
// the moves. quiet may spoil a day.
func lived(r Records, days int, spoil func(*Records)) []Milestone {
	out := []Milestone{}
	first := r.Today
	for range days {
		r.Lead = load.LeadOn(r.Weeks, r.Today)
		seq := int64(r.Today.Sub(first)+1) * 10
		if r.Today > r.Plan.On {
			r.Mornings = append(r.Mornings, Morning{On: r.Today, All: true, Seq: seq})
		}
		if r.Today > r.Plan.On {
			r.Logs = append(r.Logs, goes(r.State(), r.Today, seq+1)...)
		}
		if s := r.State(); s.Verdict == Up || s.Verdict == Back || s.Verdict == Return { // in the evening
			out = append(out, Milestone{On: r.Today, At: s.To})
			r.Moves = append(r.Moves, Move{On: r.Today, Verdict: s.Verdict, From: s.At, To: s.To, Saw: s.Saw})
		}
		if spoil != nil {
			spoil(&r)
		}
		r.Today = r.Today.Add(1)
	}
	return out
}

// goes are what a dose asks for on a day: bounces and strength on Tuesday and Friday, running on Tuesday.
func goes(s State, on body.Date, seq int64) []Log {
	l := Log{On: on, Stage: s.Now.Stage, Pain: "0", Skin: "fine", Seq: seq}
	switch n := on.Sub(monday) % 7; s.Now.Stage {
	case None:
		return nil
	case Home, Walking:
		l.Minutes = float64(s.Dose.Minutes * s.Dose.Times)
	case Strength, Bouncing:
		if n != 1 && n != 4 {
			return nil
		}
		l.Whole, l.Contacts = true, s.Dose.Contacts
	default:
		if n != 1 {
			return nil
		}
		l.Minutes = float64(s.Dose.Minutes)
	}
	return []Log{l}
}

func TestAQuietRunnerReachesTheShareInTheWeeksThatAreReckoned(t *testing.T) {
	a := open(200).Ahead(0)
	assert.Nil(t, a.Stops)
	// By hand: home 3 weeks, walks 1 + 2, strength 2 + 2, bounces 4, run–walk 3. Then 5 min grow by one to 20, by two to 30, by three
	// to 39, and end at 40, a fifth of 200.
	at := map[int]int{}
	for _, m := range a.Steps {
		if _, seen := at[m.At.Stage]; !seen {
			at[m.At.Stage] = m.On.Sub(monday) / 7
		}
	}
	assert.Equal(t, map[int]int{0: 0, 1: 3, 2: 6, 3: 10, 4: 14, 5: 17}, at)
	last := a.Steps[len(a.Steps)-1]
	assert.Equal(t, At{Share, 0, 40}, last.At)
	assert.Equal(t, 40, last.On.Sub(monday)/7)
	assert.Equal(t, last.On, a.Done)
	assert.InDelta(t, 20, last.Percent, 1e-9)
}

// The dates ahead are those of living day by day through the rules, whoever leads which week and wherever the runner stands.
func TestTheDatesAheadAreThoseOfLivingThroughTheRules(t *testing.T) {
	rng := rand.New(rand.NewPCG(17, 1))
	for range 16 {
		r := open(40 + rng.IntN(300))
		every := 1 + rng.IntN(4)
		r.Weeks = weeksOf(monday, 120, r.Weeks[0].Planned, func(i int) load.Dial {
			if i%every == 0 {
				return load.Barefoot
			}
			return load.Running
		})
		r.Plan.Start = At{Stage: rng.IntN(4)}
		if r.Plan.Aim = Aims[rng.IntN(3)]; r.Plan.Aim == StrengthOnly {
			r.Plan.Start.Stage = min(r.Plan.Start.Stage, Strength)
		}
		r.Plan.Cap = 5 + rng.IntN(16)
		r.Gate = gateAt([]int{Walking, Strength, Share, Share, Share}[rng.IntN(5)])
		r.Plan.Start.Stage = min(r.Plan.Start.Stage, r.Gate.Cap)
		if on := monday.Add(rng.IntN(200)); rng.IntN(2) == 0 {
			r.Races = []load.Span{{From: on.Add(-14), Until: on.Add(7)}}
		}
		a, l := r.Ahead(0), lived(r, 500, nil)
		n := 0
		for i, m := range a.Steps[1:] {
			if m.On.Sub(monday) >= 500 {
				break
			}
			require.Greater(t, len(l), i, "%+v", m)
			require.Equal(t, l[i].On, m.On, "step %d, %+v against %+v, every %d", i, m.At, l[i].At, every)
			require.Equal(t, l[i].At, m.At)
			n++
		}
		require.Len(t, l, n)
	}
}

// From the middle of a week, with mornings missing and goes left out, the next date is the one that living gives.
func TestTheNextDateFollowsFromWhatWasToldAlready(t *testing.T) {
	rng := rand.New(rand.NewPCG(17, 2))
	for range 150 {
		r := open(200)
		r.Plan.Start = At{Stage: rng.IntN(2), Step: rng.IntN(2)}
		for range 1 + rng.IntN(12) {
			s := r.State()
			if rng.IntN(4) > 0 && r.Today > monday {
				m := Morning{On: r.Today, All: rng.IntN(5) > 0, Seq: int64(r.Today.Sub(monday)) * 10}
				if rng.IntN(12) == 0 {
					m.Over, m.Pain = 1, 1
				}
				r.Mornings = append(r.Mornings, m)
			}
			if rng.IntN(4) > 0 && r.Today > monday {
				r.Logs = append(r.Logs, goes(s, r.Today, int64(r.Today.Sub(monday))*10+1)...)
			}
			r.Today = r.Today.Add(1)
		}
		r.Lead = load.LeadOn(r.Weeks, r.Today)
		if s := r.State(); s.Verdict != Hold {
			continue
		}
		a, l := r.Ahead(0), lived(r, 30, nil)
		require.NotEmpty(t, l)
		assert.Equal(t, l[0].On, a.Steps[1].On, "today %s, %+v", r.Today, r.Moves)
	}
}

func TestWhatIsLostMovesTheDates(t *testing.T) {
	quiet := open(200).Ahead(0)
	lost := open(200).Ahead(2)
	for i, m := range lost.Steps[1:] {
		assert.Equal(t, quiet.Steps[i+1].On.Add(14), m.On)
	}
	// From the bounces two weeks are one step back, four the beginning.
	r := open(200)
	r.Plan.Start = At{Stage: Bouncing, Step: 2}
	assert.Equal(t, At{Stage: Bouncing, Step: 1}, r.Ahead(2).Steps[0].At)
	assert.Equal(t, At{}, r.Ahead(4).Steps[0].At)
	// Running that rises every week leaves every fourth to the barefoot dial.
	r = open(200)
	r.Weeks = weeksOf(monday, 200, 200, func(i int) load.Dial {
		if i%4 == 3 {
			return load.Barefoot
		}
		return load.Running
	})
	assert.Greater(t, r.Ahead(0).Done, quiet.Done)
}

func TestAWishThatIsTooEarlySaysSo(t *testing.T) {
	r := open(200)
	r.Plan.Wish = monday.Add(7 * 8)
	w := r.Ahead(0).Wish
	assert.False(t, w.Reached)
	assert.Contains(t, w.Why.Says, "cannot be reached: running on bare feet begins on "+monday.Add(7*14).Short()+" at the earliest")
	assert.Contains(t, w.Instead, "Walk the stretch, up to ten minutes, and run the rest in the usual shoes.")
	r.Plan.Wish = monday.Add(7 * 20)
	w = r.Ahead(0).Wish
	assert.True(t, w.Reached)
	assert.Contains(t, w.Why.Says, "9 min of the easy running a week")
	r.Gate = gateAt(Strength)
	w = r.Ahead(0).Wish
	assert.False(t, w.Reached)
	assert.Contains(t, w.Why.Says, "cannot be reached as things stand")
}

func TestShoeArithmetic(t *testing.T) {
	pairs := []Pair{{"road", 20, 10, 2}, {"flat", 38, 5, 1.2}, {"thin", 72, 0, 1}, {"sock", 90, 0, 1}, {"half", 55, 4, 1.1}}
	for i, points := range map[int]float64{1: 18, 4: 35, 2: 52, 3: 70} {
		s := StepTo(pairs[0], pairs[i], house.Rules{})
		assert.InDelta(t, points, s.Points, 1e-9)
		assert.Equal(t, points <= 20, s.Fits)
	}
	s := StepTo(pairs[0], pairs[2], house.Rules{})
	assert.False(t, s.Fits)
	assert.True(t, s.Dial)
	assert.Contains(t, s.Why.Says, "a shoe of 52 to 40 points is needed between")
	assert.False(t, StepTo(pairs[2], pairs[3], house.Rules{}).Dial)
	assert.True(t, StepTo(Pair{Index: 40, DropMm: 8}, Pair{Index: 42, DropMm: 4}, house.Rules{}).Dial) // 4 mm
	assert.False(t, StepTo(Pair{Index: -1}, pairs[3], house.Rules{}).Fits)
}
