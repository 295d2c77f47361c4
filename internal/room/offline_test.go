package room

import (
	"encoding/json"
	"flag"
	"fmt"
	"math/rand/v2"
	"os"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/permit"
	"notchback/internal/core/permit/plain"
	"notchback/internal/record"
)

var (
	phones    = flag.Int("phones", 6, "runners whose phone is compared with the core")
	keepCases = flag.Bool("keep", false, "keep some of the comparisons for the page's own tests")
)

// trainedRunner draws a runner with some rails, symptoms, weeks of mornings and sessions, and days of training.
func trainedRunner(r *rand.Rand) Chart {
	w := world{tests: plain.States[len(plain.States)-1]}
	if ids := permit.CautionIDs(); r.IntN(4) == 0 {
		w.cautions = []string{ids[r.IntN(len(ids))]}
	}
	o := w.runner(r)
	rails := map[string]bool{}
	for _, i := range r.Perm(len(o.Prescriptions)) {
		if len(rails) < 7 {
			rails[o.Prescriptions[i].Rail] = true
		}
	}
	other := func(rail string) bool { return !rails[rail] }
	o.Prescriptions = slices.DeleteFunc(o.Prescriptions, func(p catalog.Prescription) bool { return other(p.Rail) })
	o.Days = nil
	for rail := range rails {
		for d := range 2 {
			o.Days = append(o.Days, record.TrainingDay{On: outletDay.Add(d), Rail: rail, Slot: catalog.Slots[r.IntN(len(catalog.Slots))]})
		}
	}
	slices.SortFunc(o.Days, func(a, b record.TrainingDay) int { return a.On.Sub(b.On)*1000 + cmpText(a.Rail, b.Rail) })
	var places []body.Region
	for range 3 {
		places = append(places, body.RegionNames[r.IntN(len(body.RegionNames))].ID)
	}
	for _, p := range places[:r.IntN(3)] {
		o.Profile.Symptoms = append(o.Profile.Symptoms, body.Symptom{Region: p, Side: body.Sides[r.IntN(2)], Baseline: r.IntN(4), Worst: 4})
	}
	seq := int64(0)
	for d := -40; d < 0; d++ {
		for _, p := range places {
			for _, leg := range body.Sides {
				if seq++; r.IntN(8) > 0 {
					pain := r.IntN(2)
					if r.IntN(60) == 0 {
						pain = r.IntN(6)
					}
					o.Mornings = append(o.Mornings, build.Morning{ID: fmt.Sprint("m", seq), On: outletDay.Add(d), Region: p, Side: leg, Pain: pain,
						Seq: seq})
				}
			}
		}
		for _, p := range o.Prescriptions {
			if seq++; d >= -9 && r.IntN(3) == 0 {
				l := adjust.Log{ID: fmt.Sprint("l", seq), On: outletDay.Add(d), Seq: seq, RPE: 3 + r.IntN(4), Prescription: p, Faults: []string{},
					Done: slices.Repeat([]int{p.Dose.Amount()}, p.Dose.TotalSets()), Times: p.Dose.Times()}
				if r.IntN(12) == 0 {
					l.Pain = r.IntN(7)
				}
				o.Logs = append(o.Logs, l)
			}
		}
	}
	o.memo = newMemo()
	return o
}

func cmpText(a, b string) int {
	switch {
	case a < b:
		return -1
	case a > b:
		return 1
	}
	return 0
}

// said is one thing told on a phone: a morning's mark, or a session's pain of some prescriptions.
type said struct {
	On            body.Date   `json:"on"`
	Region        body.Region `json:"region,omitempty"`
	Side          body.Side   `json:"side,omitempty"`
	Prescriptions []string    `json:"prescriptions,omitempty"`
	Pain          int         `json:"pain"`
}

// say draws what somebody may tell of a day: any place, either leg or both, any number; any side of the session.
func say(r *rand.Rand, on body.Date, session []PhoneItem) said {
	s := said{On: on, Pain: r.IntN(11)}
	if len(session) > 0 && r.IntN(3) == 0 {
		it := session[r.IntN(len(session))]
		s.Prescriptions = it.Sides[r.IntN(len(it.Sides))].Prescriptions
		return s
	}
	for s.Region == "" || s.Region == body.WholePerson {
		s.Region = body.RegionNames[r.IntN(len(body.RegionNames))].ID
	}
	if cuts := []body.Region{body.HeelBack, body.Ball, body.AboveKnee}; r.IntN(2) == 0 { // where single demands are taken away
		s.Region = cuts[r.IntN(len(cuts))]
	}
	s.Side = []body.Side{body.Left, body.Right, body.Both}[r.IntN(3)]
	return s
}

// heard is the record as the server would have it, had all of it arrived.
func heard(o Chart, all []said, today body.Date) Chart {
	r := *o.Reports
	shown := map[string]itemSide{}
	for _, it := range o.training(all[0].On).items {
		for _, s := range it.sides {
			for _, p := range s.prescriptions {
				shown[p.ID] = s
			}
		}
	}
	for i, s := range all {
		seq := int64(100000 + i)
		if s.Region != "" {
			r.Mornings = append(slices.Clip(r.Mornings), build.Morning{ID: "x", On: s.On, Region: s.Region, Side: s.Side, Pain: s.Pain, Seq: seq})
			continue
		}
		for _, id := range s.Prescriptions {
			for _, p := range shown[id].prescriptions {
				if p.ID == id {
					p.Dose = shown[id].dose
					r.Logs = append(slices.Clip(r.Logs), adjust.Log{ID: "x", On: s.On, Seq: seq, RPE: 4, Pain: s.Pain, Source: "phone", Prescription: p,
						Done: slices.Repeat([]int{p.Dose.Amount()}, p.Dose.TotalSets()), Times: p.Dose.Times(), Faults: []string{}})
				}
			}
		}
	}
	o.Reports, o.Today, o.memo = &r, today, newMemo()
	return o
}

// holdsFor is what the phone does: it compares what was told with a number.
func (u Unless) holdsFor(all []said) bool {
	return slices.ContainsFunc(all, func(s said) bool {
		if s.Pain < u.AtLeast {
			return false
		}
		if u.Prescription != "" {
			return slices.Contains(s.Prescriptions, u.Prescription)
		}
		return s.Region == u.Region && (s.Side == u.Side || s.Side == body.Both)
	})
}

// A side on a phone: as it is, by the number of what is done instead, or not at all.
const asItIs, notAtAll = -1, -2

// onPhone says, apart from the page's own code, how a phone shows a side after what it was told.
func onPhone(side OfflineSide, all []said) int {
	takes := func(u Unless) bool { return u.holdsFor(all) }
	times := 0 // that one of the rows was done since
	for _, row := range side.Rows {
		n := 0
		for _, s := range all {
			if slices.Contains(s.Prescriptions, row) {
				n++
			}
		}
		times = max(times, n)
	}
	if times > 0 && (side.Once || slices.ContainsFunc(side.Against, takes)) || times > 1 && slices.ContainsFunc(side.Unless, takes) {
		return notAtAll
	}
	if !slices.ContainsFunc(side.Unless, takes) {
		return asItIs
	}
	if i := slices.IndexFunc(side.Instead, func(v Instead) bool { return !slices.ContainsFunc(v.Unless, takes) }); i >= 0 {
		return i
	}
	return notAtAll
}

// row is what that shows.
func (s OfflineSide) row(at int, now catalog.Prescription) catalog.Prescription {
	switch at {
	case asItIs:
		return now
	case notAtAll:
		return catalog.Prescription{Parked: true}
	}
	return catalog.Prescription{Exercise: s.Instead[at].Does[0].Kind, Dose: s.Instead[at].Does[0].Exact}
}

// phoneCase is one comparison, kept for the page's own tests.
type phoneCase struct {
	Side OfflineSide `json:"side"`
	Said []said      `json:"said"`
	At   int         `json:"at"`
}

const phoneCases = "../../web/src/phone/testdata/offline.json"

// kept is a case as far as a comparison goes by it; a session is told a prescription at a time.
func kept(side OfflineSide, all []said, at int) phoneCase {
	short := func(all []Unless) []Unless {
		out := slices.Clone(all)
		for i := range out {
			out[i].Why = ""
		}
		return out
	}
	c := phoneCase{OfflineSide{Unless: short(side.Unless), Rows: side.Rows, Against: short(side.Against), Once: side.Once,
		Instead: []Instead{}}, nil, at}
	for _, v := range side.Instead {
		c.Side.Instead = append(c.Side.Instead, Instead{[]OfflineDose{}, short(v.Unless)})
	}
	for _, s := range all {
		if s.Region != "" {
			c.Said = append(c.Said, s)
		}
		for _, id := range s.Prescriptions {
			c.Said = append(c.Said, said{On: s.On, Prescriptions: []string{id}, Pain: s.Pain})
		}
	}
	return c
}

// The page's own comparison, in its language, is held to cases drawn here: they say what is said here.
func TestTheKeptCasesOfThePhone(t *testing.T) {
	doc, err := os.ReadFile(phoneCases)
	require.NoError(t, err)
	var cases []phoneCase
	require.NoError(t, json.Unmarshal(doc, &cases))
	count := map[int]int{}
	for i, c := range cases {
		assert.Equal(t, c.At, onPhone(c.Side, c.Said), "case %d", i)
		count[min(c.At, 0)]++
	}
	assert.GreaterOrEqual(t, min(count[asItIs], count[notAtAll], count[0]), 10, "each outcome: %v", count)
}

// compared is what came of the comparisons.
type compared struct {
	alike, less, away int // on one thing told of today
	cases             []phoneCase
	each              map[int]int
}

// compare sets each side of a session on a phone, after what was told, beside the core's.
func (c *compared) compare(t *testing.T, a asked, table OfflineDay, all []said, keep bool) {
	t.Helper()
	truth := heard(a.Chart, all, a.on)
	for i, s := range a.sides {
		in := adjust.Input{Rail: a.of[i], Profile: a.Profile}
		side, now := table[s.prescriptions[0].ID], a.now[i]
		at := onPhone(side, all)
		is, want := side.row(at, now.row()), truth.stands(a.of[i], s, a.on)
		if of := min(at, 0); keep && c.each[of] < 10 {
			c.each[of]++
			c.cases = append(c.cases, kept(side, all, at))
		}
		require.LessOrEqual(t, in.Gentler(is, want.row()), 0, "%s: after %+v the phone shows %s, the core %s: %s", a.on, all, is.Text(),
			want.row().Text(), want.why)
		mine := func(id string) bool { return slices.Contains(side.Rows, id) }
		if len(all) > 1 || a.on > a.Today || side.Once && slices.ContainsFunc(all[0].Prescriptions, mine) {
			continue
		}
		if in.Gentler(want.row(), now.row()) > 0 { // the report opens something: that waits for contact
			want = now
		}
		// A wait for contact that a lower number asks for stays where a higher one would bring something easier.
		for lower := all[0]; in.Gentler(is, want.row()) < 0 && lower.Pain > 0; {
			lower.Pain--
			want = heard(a.Chart, []said{lower}, a.on).stands(a.of[i], s, a.on)
		}
		require.Zero(t, in.Gentler(is, want.row()), "after %+v the phone shows %s, the core %s: %s", all, is.Text(), want.row().Text(), want.why)
		switch {
		case want.key() == "":
			c.away++
		case want.key() != now.key():
			c.less++
		default:
			c.alike++
		}
	}
}

// A phone without signal is never milder than the core would be on what it was told, today and tomorrow, one thing or
// several; and on one thing it says what the core says.
func TestPropertyAPhoneWithoutSignalIsNeverMilderThanTheCore(t *testing.T) {
	t.Parallel()
	r := rand.New(rand.NewPCG(14, 24))
	c := compared{cases: []phoneCase{}, each: map[int]int{}}
	for range *phones {
		o := trainedRunner(r)
		for ahead := range 2 {
			on := o.Today.Add(ahead)
			table, session, a := o.offline(on, map[string]OfflineKind{}), o.phoneSession(on).Items, o.asked(on)
			for range 60 {
				all := []said{say(r, o.Today.Add(r.IntN(ahead+1)), session)}
				for r.IntN(2) == 0 { // a place is told once a day: four numbers of one place would be its usual
					next := say(r, o.Today.Add(r.IntN(ahead+1)), session)
					if next.Region == "" || !slices.ContainsFunc(all, func(s said) bool { return s.Region == next.Region && s.On == next.On }) {
						all = append(all, next)
					}
				}
				slices.SortStableFunc(all, func(a, b said) int { return a.On.Sub(b.On) })
				c.compare(t, a, table, all, *keepCases && r.IntN(20) == 0)
			}
		}
	}
	if *keepCases {
		doc, err := json.Marshal(c.cases)
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(phoneCases, append(doc, '\n'), 0o644))
	}
	assert.Greater(t, min(c.alike, c.less, c.away), 10, "each outcome was drawn: alike %d, less %d, away %d", c.alike, c.less, c.away)
}

// What is done instead of one thing may be what another takes away: told both, neither stands.
func TestWhatIsDoneInsteadIsAllowedUnderAllThatWasTold(t *testing.T) {
	o := world{tests: plain.States[len(plain.States)-1]}.runner(rand.New(rand.NewPCG(1, 1)))
	o.Profile.Symptoms = []body.Symptom{{Region: body.AboveKnee, Side: body.Left, Baseline: 3, Worst: 3}}
	rail, _ := catalog.Shipped.Find("calf_straight")
	x, ok := rail.Exercise("one_step_dumbbell")
	require.True(t, ok)
	o.Prescriptions, o.Days = nil, []record.TrainingDay{{On: outletDay, Rail: rail.ID, Slot: catalog.Own}}
	for _, side := range rail.Sides() {
		o.Prescriptions = append(o.Prescriptions, catalog.Prescription{ID: "row" + string(side), Rail: rail.ID, Side: side, Exercise: x.ID,
			Name: x.Name, Dose: x.Ladder[0], From: outletDay.Add(-3)})
	}
	o.memo = newMemo()
	a, table := o.asked(outletDay), o.offline(outletDay, map[string]OfflineKind{})
	left := slices.IndexFunc(a.sides, func(s itemSide) bool { return s.side == body.Left })
	require.GreaterOrEqual(t, left, 0, "it may be done to begin with")
	side, now := table["rowleft"], a.now[left].row()
	shown := func(all ...said) body.Demand {
		is := side.row(onPhone(side, all), now)
		want := heard(o, all, outletDay).stands(rail, a.sides[left], outletDay)
		in := adjust.Input{Rail: rail, Profile: o.Profile}
		assert.LessOrEqual(t, in.Gentler(is, want.row()), 0, "after %+v the phone shows %s, the core %s", all, is.Text(), want.row().Text())
		e, _ := rail.Exercise(is.Exercise)
		return e.Demand
	}
	knee := said{On: outletDay, Region: body.AboveKnee, Side: body.Left, Pain: 6}
	heel := said{On: outletDay, Region: body.HeelBack, Side: body.Left, Pain: 3}
	assert.True(t, shown(knee).Edge, "two legs, below level still")
	assert.Equal(t, 3, shown(heel).Level, "one leg still, on the floor")
	both := shown(knee, heel)
	assert.False(t, both.Edge)
	assert.LessOrEqual(t, both.Level, 2)
}
