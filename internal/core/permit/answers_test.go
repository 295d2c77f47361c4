package permit_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
	"notchback/internal/core/permit"
	"notchback/internal/core/permit/plain"
	"notchback/internal/core/refer"
)

// What an answer leaves of a dose, worked by hand.
func TestTheDoseOfAnAnswer(t *testing.T) {
	contacts := func(sets, n int) body.Dose { return body.Dose{Kind: body.Contacts, Sets: sets, Reps: n} }
	hold := func(sets, s int) body.Dose { return body.Dose{Kind: body.Hold, Sets: sets, Seconds: s} }
	for _, c := range []struct {
		a          permit.Answer
		from, want body.Dose
	}{
		{permit.Answer{Contacts: 10}, contacts(2, 20), contacts(1, 10)},
		{permit.Answer{Contacts: 10}, contacts(2, 5), contacts(2, 5)},
		{permit.Answer{Contacts: 10}, contacts(1, 11), contacts(1, 10)},
		{permit.Answer{Contacts: 10}, contacts(3, 4), contacts(1, 4)},
		{permit.Answer{Contacts: 10}, hold(2, 20), hold(2, 20)},
		{permit.Answer{}, contacts(2, 20), contacts(2, 20)},
		{permit.Answer{HalfContacts: true, Kind: permit.UpTo}, contacts(2, 1), contacts(2, 1)},
		{permit.Answer{HalfContacts: true, Kind: permit.UpTo}, contacts(2, 21), contacts(2, 10)},
		{permit.Answer{HalfContacts: true, Contacts: 15}, contacts(2, 20), contacts(1, 10)},
		{permit.Answer{HalfContacts: true, Kind: permit.UpTo}, hold(1, 30), hold(1, 15)},
		{permit.Answer{HalfContacts: true, Kind: permit.UpTo}, hold(1, 1), hold(1, 1)},
		{permit.Answer{HalfContacts: true, Kind: permit.Allowed}, hold(1, 30), hold(1, 30)},
		{permit.Answer{HalfSets: true}, body.Dose{Kind: body.Hold, Sets: 3, Extra: 1, Seconds: 20}, hold(2, 20)},
		{permit.Answer{HalfSets: true}, hold(1, 20), hold(1, 20)},
	} {
		assert.Equal(t, c.want, c.a.Of(c.from), "%+v of %s", c.a, c.from)
	}
}

// What an answer does to a dose in force is the most protective of its reasons, in whatever order they stand.
func TestTheMostProtectiveReasonCounts(t *testing.T) {
	for _, order := range [][]permit.Sort{{permit.Holds, permit.Safety}, {permit.Safety, permit.Holds},
		{permit.Waits, permit.Safety, permit.Calendar}} {
		a := permit.Answer{}
		for _, sort := range order {
			a.Reasons = append(a.Reasons, permit.Reason{Sort: sort})
		}
		assert.Equal(t, permit.Safety, a.Sort(), "%v", order)
	}
}

// What was recorded for a pattern of one leg opens nothing of the other; words of an earlier release open nothing.
func TestALimitOpensItsOwnPattern(t *testing.T) {
	f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
	f.Faults = map[body.Side][]string{body.Left: {"ankle.end_feel:painful"}, body.Right: {"ankle.end_feel:painful"}}
	opened := func() map[body.Side]int {
		out := map[body.Side]int{}
		for _, p := range f.Patterns() {
			if p.ID == "pattern.front_pinch" {
				out[p.Side] = len(p.Opened)
			}
		}
		return out
	}
	assert.Equal(t, map[body.Side]int{body.Left: 0, body.Right: 0}, opened())
	yes := true
	f.Limits = []refer.Limit{{ID: "l", For: "pattern.front_pinch", Side: body.Left, Kind: "clinician", Who: "Dr Vane", On: today,
		Opens: refer.Opening{Range: &yes}}}
	assert.Equal(t, map[body.Side]int{body.Left: 1, body.Right: 0}, opened())
	f.Limits[0].Earlier = true
	assert.Equal(t, map[body.Side]int{body.Left: 0, body.Right: 0}, opened())
}

// Two answers joined leave the fewer contacts, whichever comes first; no bound stays no bound.
func TestTwoAnswersLeaveTheFewerContacts(t *testing.T) {
	for _, c := range [][3]int{{0, 0, 0}, {10, 0, 10}, {0, 10, 10}, {10, 20, 10}, {20, 10, 10}, {10, 10, 10}} {
		assert.Equal(t, c[2], permit.Answer{Contacts: c[0]}.And(permit.Answer{Contacts: c[1]}).Contacts, "%d and %d", c[0], c[1])
	}
}

// A test is how the unknown becomes known: nothing unknown bars it.
func TestATestMayBeDoneWithTheRestUnknown(t *testing.T) {
	f := factsOf(refer.Sign{}, "", "", "", plain.States[0])
	for _, d := range []body.Demand{{Bare: true, Trains: body.OneSide, Bears: body.TrainedLeg}, {Pressure: true, Trains: body.OneSide},
		{Tags: []body.Tag{body.Grip}, Trains: body.OneSide}} {
		x := permit.Ask{Demand: d, Side: body.Left}
		assert.False(t, f.May(x).May(), "%+v", d)
		x.Test = true
		assert.True(t, f.May(x).May(), "%+v", d)
	}
}

// What may be done only beside the coach may be tested, and is given to nobody alone.
func TestBesideTheCoach(t *testing.T) {
	f := factsOf(refer.Sign{}, "", "", "balance", plain.States[2])
	for _, g := range []body.Tag{body.EyesClosed, body.Block} {
		x := permit.Ask{Demand: body.Demand{Level: 2, Trains: body.OneSide, Bears: body.TrainedLeg, Position: "standing", Tags: []body.Tag{g}},
			Side: body.Left}
		assert.False(t, f.May(x).May(), g)
		x.Test = true
		assert.True(t, f.May(x).May(), "%s in a test", g)
	}
}

// A pattern of a sore place is of the leg and the place that is sore, named with some pain or reported above 2.
func TestWhereAPatternIs(t *testing.T) {
	for name, c := range map[string]struct {
		symptom body.Symptom
		mark    permit.Mark
		want    []body.Side
	}{
		"named, worst":     {body.Symptom{Region: body.BigToe, Side: body.Left, Worst: 1}, permit.Mark{}, []body.Side{body.Left}},
		"named, usual":     {body.Symptom{Region: body.BigToe, Side: body.Right, Baseline: 1}, permit.Mark{}, []body.Side{body.Right}},
		"both":             {body.Symptom{Region: body.BigToe, Side: body.Both, Worst: 2}, permit.Mark{}, body.Sides},
		"named, no pain":   {body.Symptom{Region: body.BigToe, Side: body.Left}, permit.Mark{}, []body.Side{}},
		"another place":    {body.Symptom{Region: body.Arch, Side: body.Left, Worst: 6}, permit.Mark{}, []body.Side{}},
		"reported":         {body.Symptom{}, permit.Mark{Region: body.BigToe, Side: body.Right, Pain: 3, On: today}, []body.Side{body.Right}},
		"reported, both":   {body.Symptom{}, permit.Mark{Region: body.BigToe, Side: body.Both, Pain: 3, On: today}, body.Sides},
		"another reported": {body.Symptom{}, permit.Mark{Region: body.Calf, Side: body.Left, Pain: 8, On: today}, []body.Side{}},
	} {
		f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
		if c.symptom.Region != "" {
			f.Profile.Symptoms = []body.Symptom{c.symptom}
		}
		if c.mark.Region != "" {
			f.Sore = []permit.Mark{c.mark}
		}
		got := []body.Side{}
		for _, p := range f.Patterns() {
			got = append(got, p.Side)
		}
		assert.Equal(t, c.want, got, name)
	}
}

// A sign entered by mistake shows no pattern, and level 0 is not a locked leg.
func TestPatternsOfSigns(t *testing.T) {
	f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
	f.Stops = []refer.Stop{{ID: "s", Sign: "old_swelling", Which: []string{"behind_inner"}, Region: body.InnerAnkle, Side: body.Left,
		On: today.Add(-3)}}
	assert.Len(t, f.Patterns(), 1)
	other := f.Stops[0]
	other.Which = []string{"no such place"}
	f.Stops = []refer.Stop{other}
	assert.Empty(t, f.Patterns(), "another place")
	f.Stops[0].Which, f.Stops[0].Clearances = []string{"behind_inner"}, []refer.Clearance{{Kind: "reviewed", Who: "Coach", On: today.Add(-2)}}
	assert.Empty(t, f.Patterns(), "entered by mistake")
	opens := refer.Opening{}
	f.Stops[0].Clearances = []refer.Clearance{{Kind: "clinician", Who: "Physiotherapist", On: today.Add(-2)}}
	assert.Len(t, f.Patterns(), 1, "a word that says nothing of what it opens")
	f.Stops[0].Clearances[0].Opens = &opens
	assert.Empty(t, f.Patterns(), "a clinician says what may be done")
}

// The sort of an answer is that of its most protective reason.
func TestTheSortOfAnAnswer(t *testing.T) {
	of := func(sorts ...permit.Sort) permit.Sort {
		a := permit.Answer{}
		for _, s := range sorts {
			a.Reasons = append(a.Reasons, permit.Reason{Sort: s})
		}
		return a.Sort()
	}
	assert.Empty(t, of())
	assert.Equal(t, permit.Holds, of(permit.Holds), "also where nothing but a hold stands there")
	assert.Equal(t, permit.Waits, of(permit.Holds, permit.Waits, permit.Calendar))
	assert.Equal(t, permit.Safety, of(permit.Safety, permit.Waits))
	assert.Equal(t, permit.Safety, of(permit.Waits, permit.Safety))
}

// Two answers joined are the stricter of each, whichever comes first.
func TestTwoAnswersJoined(t *testing.T) {
	one := permit.Answer{Kind: permit.UpTo, HalfContacts: true, Contacts: 20, Notes: []string{"a"},
		Reasons: []permit.Reason{{Cut: "x", Sort: permit.Waits}}}
	two := permit.Answer{Kind: permit.NotNow, NoUp: true, HalfSets: true, Contacts: 10, Notes: []string{"a", "b"},
		Reasons: []permit.Reason{{Cut: "y", Sort: permit.Safety}}}
	for _, got := range []permit.Answer{one.And(two), two.And(one)} {
		assert.Equal(t, permit.NotNow, got.Kind)
		assert.True(t, got.NoUp && got.HalfContacts && got.HalfSets)
		assert.Equal(t, 10, got.Contacts)
		assert.ElementsMatch(t, []string{"a", "b"}, got.Notes)
		assert.Equal(t, []string{"y", "x"}, []string{got.Reasons[0].Cut, got.Reasons[1].Cut}, "the most protective first")
	}
	none := permit.Answer{}
	assert.Equal(t, 20, none.And(one).Contacts)
	assert.Equal(t, 20, one.And(none).Contacts)
	assert.False(t, none.And(none).NoUp || none.And(none).HalfContacts || none.And(none).HalfSets)
}

// A limit recorded for diabetes opens what an unfeeling foot of it closes, and no other caution.
func TestALimitOpensItsOwnCautionAlone(t *testing.T) {
	level := 4
	for _, feels := range []bool{true, false} {
		f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
		f.Profile.Cautions = []string{"diabetes", "bone", "surgery"}
		f.Profile.Touch.Left, f.Profile.Touch.Right = feels, feels
		if !feels {
			for _, side := range body.Sides {
				f.Tests[side][body.SoleTouch] = 1
			}
		}
		f.Limits = []refer.Limit{{For: "diabetes", Side: body.Both, Kind: "clinician", Who: "GP", On: today, Opens: refer.Opening{Level: &level}}}
		in := map[string]int{}
		for _, c := range f.InForce() {
			in[c.ID] = len(c.Opened)
		}
		own := map[bool]string{true: "diabetes", false: "sensation"}[feels]
		assert.Equal(t, map[string]int{own: 1, "bone": 0, "surgery": 0}, in, "feels: %v", feels)
	}
}

// A finding recorded for a pattern opens that pattern on its own leg: no other pattern, and no limit of a caution does.
func TestAFindingOpensItsOwnPatternAlone(t *testing.T) {
	level := 4
	limit := func(of string) refer.Limit {
		return refer.Limit{For: of, Side: body.Left, Kind: "clinician", Who: "GP", On: today, Opens: refer.Opening{Level: &level}}
	}
	f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
	both := []string{"toe.passive_extension:joint_pain", "ankle.end_feel:painful", "calf.raises_straight:no_turn"}
	f.Faults = map[body.Side][]string{body.Left: both, body.Right: both}
	patterns := f.Patterns()
	seen := map[string]bool{}
	for _, p := range patterns {
		assert.Empty(t, p.Opened, p.ID)
		seen[p.ID] = true
	}
	if len(seen) < 3 {
		t.Fatalf("only %v lock", seen)
	}
	f.Limits = []refer.Limit{limit("bone"), limit("diabetes")}
	for _, p := range f.Patterns() {
		assert.Empty(t, p.Opened, "%s by the limit of a caution", p.ID)
	}
	own := patterns[0].ID
	f.Limits = append(f.Limits, limit(own))
	for _, p := range f.Patterns() {
		assert.Equal(t, p.ID == own && p.Side == body.Left, len(p.Opened) == 1, "%s, %s", p.ID, p.Side)
	}
}

// What stands in the way is said in a line, and nothing where nothing does, whatever is said beside it.
func TestWhatAnAnswerSays(t *testing.T) {
	held := []permit.Reason{{Reason: body.Reason{Says: "held"}, Sort: permit.Holds}}
	for _, c := range []struct {
		kind    permit.Kind
		reasons []permit.Reason
		says    string
	}{{permit.Allowed, nil, ""}, {permit.Allowed, held, ""}, {permit.UpTo, held, ""}, {permit.NotNow, held, "held"},
		{permit.Never, held, "held"}, {permit.NotNow, nil, ""}} {
		assert.Equal(t, c.says, permit.Answer{Kind: c.kind, Reasons: c.reasons}.Says(), "%s", c.kind)
	}
}

// A reason after a stop names who cleared it, and the limits in their words.
func TestAClearanceIsQuoted(t *testing.T) {
	level := 2
	for limits, want := range map[string]string{"": "Physiotherapist", "no hills until May": "Physiotherapist: no hills until May"} {
		f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
		f.Stops = []refer.Stop{{ID: "s", Sign: "swelling", Region: body.Calf, Side: body.Left, On: today.Add(-9), Recorded: today.Add(-9),
			Clearances: []refer.Clearance{{Kind: "clinician", Who: "Physiotherapist", On: today.Add(-3), Limits: limits,
				Opens: &refer.Opening{Level: &level}}}}}
		saw := ""
		for _, c := range f.Cuts() {
			if c.ID == "cleared.swelling" {
				saw = c.Reason.Saw[len(c.Reason.Saw)-1].Value
			}
		}
		assert.Equal(t, want, saw)
	}
}
