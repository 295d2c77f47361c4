package refer

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
)

const day = body.Date("2026-03-02")

func level(n int) *Opening { return &Opening{Level: &n} }

// A place at or below the knee locks that leg; one above it, on the trunk, on both or on no side locks both.
func TestWhichLegsAStopLocks(t *testing.T) {
	for _, c := range []struct {
		s    Stop
		want []body.Side
	}{
		{Stop{Sign: "bone", Region: body.OuterAnkle, Side: body.Left}, []body.Side{body.Left}},
		{Stop{Sign: "swelling", Region: body.Knee, Side: body.Right}, []body.Side{body.Right}},
		{Stop{Sign: "groin", Region: body.AboveKnee, Side: body.Right}, body.Sides},
		{Stop{Sign: "nerve", Region: body.WholePerson, Side: body.Left}, body.Sides},
		{Stop{Sign: "swelling", Region: body.Calf, Side: body.Both}, body.Sides},
	} {
		assert.Equal(t, c.want, c.s.Locks(), "%s at %s", c.s.Sign, c.s.Region)
	}
	assert.ElementsMatch(t, []body.Region{body.OuterAnkle, body.Shin},
		Stop{Region: body.OuterAnkle, Which: []string{"outer_bone", "shin"}}.Places(), "every bone that was named")
	assert.ElementsMatch(t, []body.Region{body.HeelSole, body.HeelBack}, Stop{Region: body.Heel, Which: []string{"heel"}}.Places(),
		"a heel squeezed from both sides is all of it")
}

// The limp of the young is asked until the day of the eighteenth birthday; what the coach may set for a pattern is for
// the pattern's own rules to say.
func TestWhoIsAskedAndWhoMayLimit(t *testing.T) {
	asked := func(born body.Date) bool {
		p := body.NewProfile()
		p.BirthDate = born
		return slices.ContainsFunc(Asked(p, day), func(s Sign) bool { return s.ID == "growing_limp" })
	}
	assert.True(t, asked("2008-03-03"), "17 for one more day")
	assert.False(t, asked("2008-03-02"), "18 today")
	word := Limit{For: "pattern.few_raises", Side: body.Left, Kind: "coach", Who: "Coach", On: day, Opens: *level(3)}
	assert.NoError(t, CheckLimit(word, day))
	word.For = "bone"
	assert.ErrorContains(t, CheckLimit(word, day), "a clinician's to set")
}

// What closes a stop, and from which day; a word of any other kind closes none.
func TestWhatClosesAStop(t *testing.T) {
	for _, c := range []struct {
		sign, kind   string
		on, recorded int // days after the stop
		closed       bool
	}{
		{"swelling", "clinician", 0, 0, true}, {"swelling", "reviewed", 0, 0, true}, {"swelling", "healed", 3, 0, false},
		{"swelling", "nod", 3, 0, false}, {"swelling", "", 3, 0, false},
		{"calf_hot", "clinician", 0, 0, true}, {"calf_hot", "reviewed", 0, 0, false}, {"calf_hot", "reviewed", 1, 0, true},
		{"calf_hot", "reviewed", 1, 1, false}, {"calf_hot", "reviewed", 2, 1, true}, {"calf_hot", "healed", 9, 0, false},
		{"blister", "healed", 0, 0, false}, {"blister", "healed", 1, 0, true}, {"blister", "nod", 3, 0, false}, {"ill", "healed", 1, 0, true},
		{"ill", "healed", 0, 0, false},
	} {
		s := Stop{ID: "s", Sign: c.sign, Region: body.Calf, Side: body.Left, On: day, Recorded: day.Add(c.recorded),
			Clearances: []Clearance{{Kind: c.kind, Who: "Somebody", On: day.Add(c.on)}}}
		assert.Equal(t, c.closed, !s.Open(), "%+v", c)
		if c.kind != "clinician" { // what closes nothing is refused
			word := s.Clearances[0]
			s.Clearances = nil
			assert.Equal(t, c.closed, CheckClearance(s, word, day.Add(20)) == nil, "%+v", c)
			s.Clearances = []Clearance{word}
		}
		if by, on := s.Closed(); c.closed {
			assert.Equal(t, c.kind, by.Kind)
			assert.Equal(t, day.Add(c.on), on)
		} else {
			assert.Nil(t, by)
		}
	}
}

// Every sign asked of this runner is denied, or is an open stop of its own.
func TestASignIsAnsweredByItsOwnStop(t *testing.T) {
	p := body.NewProfile()
	p.BirthDate = "1985-05-05"
	denied := []string{}
	for _, s := range Asked(p, day) {
		if s.ID != "bone" {
			denied = append(denied, s.ID)
		}
	}
	open := func(sign string) Stop {
		return Stop{ID: "s", Sign: sign, Region: body.Shin, Side: body.Left, On: day.Add(-3)}
	}
	closed := open("bone")
	closed.Clearances = []Clearance{{Kind: "clinician", Who: "GP", On: day.Add(-1), Opens: level(4)}}
	for name, c := range map[string]struct {
		stops []Stop
		ok    bool
	}{"none": {nil, false}, "its own": {[]Stop{open("bone")}, true}, "another": {[]Stop{open("swelling")}, false},
		"its own, closed": {[]Stop{closed}, false}, "both": {[]Stop{closed, open("bone")}, true}} {
		err := CheckAnswers(denied, c.stops, p, day)
		if c.ok {
			assert.NoError(t, err, name)
		} else {
			assert.ErrorContains(t, err, "1 warning signs are not answered yet", name)
		}
	}
	assert.NoError(t, CheckAnswers(append(denied, "bone"), nil, p, day))
	assert.ErrorContains(t, CheckAnswers(append(denied, "bone", "boredom"), nil, p, day), `"boredom" is not on the list`)
}

func TestUrgentSignsNeedASecondLookOnAnotherDay(t *testing.T) {
	urgent := Stop{Sign: "calf_hot", Region: body.Calf, Side: body.Left, On: day, Recorded: day}
	review := Clearance{Kind: "reviewed", Who: "Coach", On: day}
	assert.ErrorContains(t, CheckClearance(urgent, review, day), "look again another day")
	urgent.Clearances = []Clearance{review}
	assert.True(t, urgent.Open())
	review.On = day.Add(1)
	require.NoError(t, CheckClearance(urgent, review, day.Add(1)))
	urgent.Clearances = append(urgent.Clearances, review)
	assert.False(t, urgent.Open())
	assert.True(t, urgent.Mistake())

	// Dated back to yesterday, it is still the day it was entered on that counts.
	back := Stop{Sign: "chest", Region: body.WholePerson, Side: body.Both, On: day.Add(-1), Recorded: day}
	assert.ErrorContains(t, CheckClearance(back, Clearance{Kind: "reviewed", Who: "Coach", On: day}, day), "look again another day")
	back.Clearances = []Clearance{{Kind: "reviewed", Who: "Coach", On: day}}
	assert.True(t, back.Open())

	hard := Stop{Sign: "swelling", Region: body.Calf, Side: body.Left, On: day,
		Clearances: []Clearance{{Kind: "reviewed", Who: "Coach", On: day}}}
	assert.False(t, hard.Open(), "entered by mistake closes a hard stop")
}

func TestClearanceNeedsWhoWhenAndWhatItOpens(t *testing.T) {
	s := Stop{Sign: "swelling", Region: body.Calf, Side: body.Left, On: day}
	for _, c := range []struct {
		c    Clearance
		want string
	}{
		{Clearance{Kind: "clinician", On: day, Opens: level(2)}, "who: is empty"},
		{Clearance{Kind: "clinician", Who: "GP", On: day, Limits: "none"}, "opens: is empty"},
		{Clearance{Kind: "clinician", Who: "GP", On: day, Opens: level(7)}, "level: is 0 to 4"},
		{Clearance{Kind: "clinician", Who: "GP", On: day.Add(-1), Opens: level(2)}, "must be a day from"},
		{Clearance{Kind: "nod", Who: "GP", On: day}, "kind:"},
		{Clearance{Kind: "healed", Who: "Runner", On: day}, "kind: only a blister"},
	} {
		assert.ErrorContains(t, CheckClearance(s, c.c, day), c.want)
	}
	blister := Stop{Sign: "blister", Region: body.Arch, Side: body.Left, On: day}
	assert.ErrorContains(t, CheckClearance(blister, Clearance{Kind: "healed", Who: "Runner", On: day}, day), "not before the next day")
	assert.NoError(t, CheckClearance(blister, Clearance{Kind: "healed", Who: "Runner", On: day.Add(1)}, day.Add(1)))
}

func TestLimitsAreAClinicians(t *testing.T) {
	l := Limit{For: "bone", Side: body.Both, Kind: "coach", Who: "Coach", On: day, Opens: *level(3), Words: "as told"}
	assert.ErrorContains(t, CheckLimit(l, day), "a clinician's to set")
	l.For = "under_18"
	assert.NoError(t, CheckLimit(l, day))
	l.For = "elbow"
	assert.ErrorContains(t, CheckLimit(l, day), "not a caution or a pattern")
	l.For, l.Opens, l.Words = "bmi", Opening{}, " "
	assert.ErrorContains(t, CheckLimit(l, day), "names nothing")
	assert.False(t, Limit{For: "bone", On: day}.Covers("bone", day.Add(1)), "a caution answered later is not covered by older limits")
	assert.True(t, Limit{For: "bone", On: day}.Covers("bone", day))
	assert.False(t, Limit{For: "bone", On: day}.Covers("clot", ""), "each speaks for its own caution")
}

func TestEverySignSaysWhatToDo(t *testing.T) {
	last := -1
	order := []Class{Emergency, SameDay, HardStop, Pattern, Small}
	for _, s := range Signs {
		assert.NotEmpty(t, s.Do, s.ID)
		at := -1
		for i, c := range order {
			if c == s.Class {
				at = i
			}
		}
		assert.GreaterOrEqual(t, at, last, "%s: the most urgent are asked first", s.ID)
		last = at
		assert.True(t, s.Region == "" || s.Region.Valid(), s.ID)
		if s.Class == HardStop || s.Class == SameDay {
			assert.Contains(t, s.Do, "unning", "%s: no running until cleared", s.ID)
		}
	}
	assert.ErrorContains(t, CheckStop(Stop{Sign: "night", Side: body.Left}), "say where")
	for _, id := range []string{"fever", "shin_long"} {
		_, ok := FindSign(id)
		assert.True(t, ok, "%s: records of an earlier release keep their meaning", id)
	}
}

// A bone that hurts under the bone caution is seen the same day.
func TestBonePainUnderTheBoneCaution(t *testing.T) {
	p := body.NewProfile()
	s := Stop{Sign: "bone", Region: body.Shin, Side: body.Left}
	assert.Equal(t, HardStop, s.Class(p))
	p.Cautions = []string{"bone"}
	assert.Equal(t, SameDay, s.Class(p))
}

// Ottawa rules, Stiell et al. 1992 and 1993 (from memory): a picture of the ankle for bone tenderness
// at the rear edge or tip of either ankle bone, of the foot for the base of the fifth metatarsal or the
// navicular; either when four steps cannot be taken.
func TestOttawaRules(t *testing.T) {
	for _, c := range []struct {
		found       []string
		ankle, foot bool
	}{{nil, false, false}, {[]string{"outer_ankle"}, true, false}, {[]string{"inner_ankle"}, true, false},
		{[]string{"fifth_base"}, false, true}, {[]string{"navicular"}, false, true},
		{[]string{"four_steps"}, true, true}, {[]string{"outer_ankle", "navicular"}, true, true}} {
		ankle, foot := Imaging(c.found)
		assert.Equal(t, c.ankle, ankle, c.found)
		assert.Equal(t, c.foot, foot, c.found)
	}
	for _, s := range Signs {
		for _, w := range s.Which {
			assert.NotEmpty(t, RegionOf([]string{w.ID}), "%s has no place on the map", w.ID)
		}
	}
	assert.Empty(t, RegionOf(nil))
	assert.ErrorContains(t, CheckStop(Stop{Sign: "twist", Region: body.OuterAnkle, Side: body.Left, Which: []string{"elbow"}}),
		"not one of what")
}

func TestEverySignIsAnswered(t *testing.T) {
	p := body.NewProfile()
	p.BirthDate = "1985-05-05"
	all := []string{}
	for _, s := range Asked(p, day) {
		all = append(all, s.ID)
	}
	assert.NotContains(t, all, "growing_limp", "asked under 18 only")
	assert.NotContains(t, all, "pregnancy_signs")
	assert.NoError(t, CheckAnswers(all, nil, p, day))
	assert.ErrorContains(t, CheckAnswers(all[1:], nil, p, day), "1 warning signs are not answered")
	assert.NoError(t, CheckAnswers(all[1:], []Stop{{Sign: all[0], Region: body.WholePerson, Side: body.Both, On: day}}, p, day),
		"a yes is an answer")
	assert.ErrorContains(t, CheckAnswers(append(all, "elbow"), nil, p, day), "not on the list")
	p.BirthDate, p.Cautions = "2012-05-05", []string{"pregnancy", "diabetes"}
	assert.ErrorContains(t, CheckAnswers(all, nil, p, day), "3 warning signs")
}

// Every field of a recorded limit, clearance and opening is checked at its edge.
func TestWhatIsRecordedIsChecked(t *testing.T) {
	const today = body.Date("2026-03-02")
	num := func(n int) *int { return &n }
	impact, odd := body.Supported, body.Impact("high")
	limit := func(change func(*Limit)) error {
		l := Limit{For: "bone", Side: body.Both, Kind: "clinician", Who: "GP", On: today, Opens: Opening{Level: num(2)}}
		change(&l)
		return CheckLimit(l, today)
	}
	for field, change := range map[string]func(*Limit){
		"for":   func(l *Limit) { l.For = "pattern" },
		"who":   func(l *Limit) { l.Who = "  " },
		"on":    func(l *Limit) { l.On = today.Add(1) },
		"kind":  func(l *Limit) { l.Kind = "friend" },
		"side":  func(l *Limit) { l.Side = "middle" },
		"opens": func(l *Limit) { l.Opens = Opening{} },
		"level": func(l *Limit) { l.Opens.Level = num(5) },
		"run":   func(l *Limit) { l.Opens.Run = "far" },
	} {
		err := limit(change)
		var f *body.FieldError
		if assert.ErrorAs(t, err, &f, field) {
			assert.Equal(t, field, f.Field)
		}
	}
	assert.Error(t, limit(func(l *Limit) { l.On = "soon" }), "no day at all")
	swollen := Stop{Sign: "swelling", Region: body.Calf, Side: body.Left}
	assert.NoError(t, CheckStop(swollen))
	for field, change := range map[string]func(*Stop){
		"sign":   func(s *Stop) { s.Sign = "gloom" },
		"which":  func(s *Stop) { s.Which = []string{"gloom"} },
		"region": func(s *Stop) { s.Region = "wing" },
		"side":   func(s *Stop) { s.Side = "middle" },
	} {
		s := swollen
		change(&s)
		var f *body.FieldError
		if assert.ErrorAs(t, CheckStop(s), &f, field) {
			assert.Equal(t, field, f.Field)
		}
	}
	for _, fine := range []func(*Limit){func(*Limit) {}, func(l *Limit) { l.On = today.Add(-400) }, func(l *Limit) { l.For = "pattern.shin" },
		func(l *Limit) { l.Opens, l.Words = Opening{}, "nothing yet" }} {
		assert.NoError(t, limit(fine))
	}
	assert.Error(t, limit(func(l *Limit) { l.Kind = "coach" }), "bone is a clinician's")
	assert.NoError(t, limit(func(l *Limit) { l.For, l.Kind = "bmi", "coach" }), "body mass index is the coach's too")

	for _, o := range []Opening{{Level: num(-1)}, {Level: num(5)}, {Bare: num(-2)}, {Bare: num(6)}, {Impact: &odd}, {Run: "far"}} {
		assert.Error(t, o.Check())
		assert.False(t, o.Empty())
	}
	yes := true
	for _, o := range []Opening{{Level: num(0)}, {Level: num(4)}, {Bare: num(-1)}, {Bare: num(5)}, {Impact: &impact}, {Run: "none"},
		{Run: "steps"}, {Run: "easy"}, {Run: "all"}, {Edge: &yes}, {Pressure: &yes}, {Cold: &yes}, {Range: &yes}, {Maximal: &yes}} {
		assert.NoError(t, o.Check())
		assert.False(t, o.Empty(), "%+v names something", o)
	}
	assert.True(t, Opening{}.Empty())

	checkedClearances(t, today, num)
}

// checkedClearances: clearances at their edges, and what counts of several.
func checkedClearances(t *testing.T, today body.Date, num func(int) *int) {
	stop := Stop{Sign: "swelling", Region: body.Calf, Side: body.Left, On: today.Add(-5), Recorded: today.Add(-5)}
	clear := func(change func(*Clearance)) error {
		c := Clearance{Kind: "clinician", Who: "GP", On: today, Opens: &Opening{Level: num(2)}}
		change(&c)
		return CheckClearance(stop, c, today)
	}
	for _, bad := range []func(*Clearance){
		func(c *Clearance) { c.On = "2026-13-01" }, func(c *Clearance) { c.On = "2026-02-30" },
		func(c *Clearance) { c.On = today.Add(-6) }, func(c *Clearance) { c.On = today.Add(1) },
		func(c *Clearance) { c.Who = "" },
		func(c *Clearance) { c.Opens = nil }, func(c *Clearance) { c.Opens = &Opening{} },
		func(c *Clearance) { c.Opens, c.Limits = &Opening{}, "  " }, func(c *Clearance) { c.Opens.Level = num(7) },
	} {
		assert.Error(t, clear(bad))
	}
	for _, fine := range []func(*Clearance){func(*Clearance) {}, func(c *Clearance) { c.On = stop.On },
		func(c *Clearance) { c.Opens, c.Limits = &Opening{}, "nothing yet" }} {
		assert.NoError(t, clear(fine))
	}

	// The newest word in fields counts; one in words alone does not take it back.
	stop.Clearances = []Clearance{{Kind: "clinician", Who: "GP", On: today.Add(-2), Opens: &Opening{Level: num(1)}},
		{Kind: "clinician", Who: "GP", On: today.Add(-1), Opens: &Opening{Level: num(2)}},
		{Kind: "clinician", Who: "GP", On: today, Limits: "slowly"}}
	require.NotNil(t, stop.Opens())
	assert.Equal(t, 2, *stop.Opens().Level)

	// A sign that was closed is asked again: only an open one answers yes.
	p := body.NewProfile()
	p.BirthDate = "1985-05-05"
	var denied []string
	for _, s := range Asked(p, today) {
		assert.NotNil(t, s.Which, s.ID)
		if s.ID != "swelling" {
			denied = append(denied, s.ID)
		}
	}
	open := stop
	open.Clearances = nil
	assert.NoError(t, CheckAnswers(denied, []Stop{open}, p, today))
	assert.Error(t, CheckAnswers(denied, []Stop{stop}, p, today), "cleared, so not answered today")
	assert.Error(t, CheckAnswers(denied, nil, p, today))
	for _, s := range Signs {
		assert.NotNil(t, s.Which, "%s: the page reads a list", s.ID)
	}
}

// A limit speaks for its own caution, from the day it was answered, in words of this form.
func TestWhatALimitCovers(t *testing.T) {
	l := Limit{For: "bone", On: "2026-03-02"}
	assert.True(t, l.Covers("bone", "2026-03-02"))
	assert.True(t, l.Covers("bone", "2026-03-01"))
	assert.False(t, l.Covers("bone", "2026-03-03"), "answered later")
	assert.False(t, l.Covers("energy", "2026-03-01"), "another caution")
	l.Earlier = true
	assert.False(t, l.Covers("bone", "2026-03-01"), "words of an earlier release")
}
