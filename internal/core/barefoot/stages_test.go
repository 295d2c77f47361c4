package barefoot

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
)

// Each step and the one after it, as the stages are written: common practice, no source. The last four are by arithmetic: 5 % of
// 60 min is 3; 10 % more, at least one and at most five; a fifth of 200 min is 40.
func TestEachStepOfTheStages(t *testing.T) {
	g := growth{Plan{Aim: BareFeet, Cap: 20}, 200, house.Rules{}}
	way := []struct {
		at    At
		words string
		quiet int
	}{{At{}, "5 min a day at home", 1}, {At{Home, 1, 0}, "10 min a day at home", 1}, {At{Home, 2, 0}, "15 min a day at home", 1},
		{At{Walking, 0, 0}, "walk 10 min a day", 1}, {At{Walking, 1, 0}, "walk 10 min twice a day", 2},
		{At{Strength, 0, 0}, "the first half of each strength session", 2}, {At{Strength, 1, 0}, "the whole strength session", 2},
		{At{Bouncing, 0, 0}, "40 contacts on grass or a mat, up to three days a week", 1},
		{At{Bouncing, 1, 0}, "60 contacts on grass or a mat, up to three days a week", 1},
		{At{Bouncing, 2, 0}, "80 contacts on grass or a mat, up to three days a week", 1},
		{At{Bouncing, 3, 0}, "100 contacts on grass or a mat, up to three days a week", 1},
		{At{RunWalk, 0, 5}, "run–walk, 5 min a week in all, over at most two days", 3},
		{At{Share, 0, 6}, "6 min of the easy running a week, over at most two days", 1}}
	for i, x := range way {
		assert.Equal(t, x.words, x.at.Dose().Words)
		assert.Equal(t, x.quiet, x.at.Dose().Quiet)
		if i+1 < len(way) {
			next, ok := g.next(x.at)
			assert.True(t, ok)
			assert.Equal(t, way[i+1].at, next)
			if i+1 < len(way)-1 {
				assert.Equal(t, x.at, g.back(next, 1))
			}
		}
	}
	assert.Equal(t, Resting, g.back(At{}, 1))
	for minutes, next := range map[int]int{5: 6, 19: 20, 20: 22, 39: 40, 55: 40} {
		assert.Equal(t, next, g.grown(minutes))
	}
	g.plan.Cap = 100
	assert.Equal(t, 65, g.grown(60), "never by more than five")
	g.weekly = 60
	assert.Equal(t, 3, g.first())
	g.weekly = 10
	assert.Equal(t, 1, g.first())
	// In a thinner shoe ten points of the running a week: of 200 min 20.
	g = growth{Plan{Aim: ThinShoe, Cap: 100}, 200, house.Rules{}}
	assert.Equal(t, 25, g.grown(5))
	assert.Equal(t, 200, g.grown(190))
	// Four fifths on going back, down to run–walk: 10 → 8, and 6 → 4 is less than run–walk's 5.
	assert.Equal(t, At{Share, 0, 8}, g.back(At{Share, 0, 10}, 1))
	assert.Equal(t, At{RunWalk, 0, 5}, g.back(At{Share, 0, 6}, 1))
	assert.Equal(t, top(Bouncing), g.back(At{RunWalk, 0, 5}, 1))
	// Without running there is no run–walk; strength only ends with strength.
	_, ok := growth{Plan{Aim: BareFeet, Cap: 20}, 0, house.Rules{}}.next(top(Bouncing))
	assert.False(t, ok)
	_, ok = growth{Plan{Aim: StrengthOnly, Cap: 20}, 200, house.Rules{}}.next(top(Strength))
	assert.False(t, ok)
}

func TestTheLoadIsDroppedAndRebuilt(t *testing.T) {
	for week, share := range []int{60, 70, 80, 90, 100, 100} {
		assert.Equal(t, share, Loads(monday, monday.Add(7*week), house.Rules{}))
	}
}

func TestTheWeeklyMinutesAreTheMedianOfFourWeeks(t *testing.T) {
	weeks := []load.Week{{From: monday.Add(-28), Ran: 100, Known: true}, {From: monday.Add(-21), Ran: 0, Known: true},
		{From: monday.Add(-14), Ran: 140, Known: true, Planned: 90}, {From: monday.Add(-7), Planned: 120}, {From: monday, Planned: 500}}
	assert.Equal(t, 110, Weekly(weeks, monday)) // 0, 100, 120, 140
	assert.Equal(t, 110, Weekly(weeks, monday.Add(6)))
	assert.Equal(t, 0, Weekly(nil, monday))
}

// after so many days, on a record that is otherwise quiet, gives its state.
func after(days int, at At, change func(*Records)) State {
	r := open(200)
	r.Plan.Start = at
	for i := 1; i <= days; i++ {
		r.Today = monday.Add(i)
		r.Lead = load.LeadOn(r.Weeks, r.Today)
		r.Mornings = append(r.Mornings, Morning{On: r.Today, All: true, Seq: int64(i) * 10})
		r.Logs = append(r.Logs, goes(State{Now: at, Dose: at.Dose()}, r.Today, int64(i)*10+1)...)
	}
	if change != nil {
		change(&r)
	}
	return r.State()
}

// What goes wrong at a stage, and what is done about it at once.
func TestWhatGoesWrong(t *testing.T) {
	at := At{Bouncing, 1, 0}
	last := func(r *Records) *Morning { return &r.Mornings[len(r.Mornings)-1] }
	for name, x := range map[string]struct {
		change func(*Records)
		want   Verdict
		now    At
		rule   string
	}{
		"quiet": {nil, Up, at, ""},
		"calf sore for more than 48 h": {func(r *Records) {
			for i := range 3 {
				r.Mornings[len(r.Mornings)-1-i].Sore = 3
			}
		}, Hold, at, "barefoot.sore"},
		"sore for a day": {func(r *Records) { last(r).Sore = 3 }, Up, at, ""},
		"a bad morning":  {func(r *Records) { last(r).Over, last(r).Pain = 2, 2 }, Back, At{Bouncing, 0, 0}, "barefoot.morning"},
		"a bad morning told late": {func(r *Records) {
			r.Moves = []Move{{On: r.Today, Verdict: Hold, To: at, Saw: last(r).Seq + 1}}
			r.Mornings[2].Over, r.Mornings[2].Pain, r.Mornings[2].Seq = 2, 2, last(r).Seq+5
		}, Back, At{Bouncing, 0, 0}, "barefoot.morning"},
		"a very bad morning":  {func(r *Records) { last(r).Over, last(r).Pain = 4, 4 }, Back, top(Strength), "barefoot.morning"},
		"a morning one above": {func(r *Records) { last(r).Over, last(r).Pain = 1, 1 }, Hold, at, ""},
		"pain of 4":           {func(r *Records) { r.Logs[len(r.Logs)-1].Pain = "4" }, Hold, at, ""},
		"pain of 6":           {func(r *Records) { r.Logs[len(r.Logs)-1].Pain = "6" }, Back, At{Bouncing, 0, 0}, "barefoot.pain"},
		"pain of 7":           {func(r *Records) { r.Logs[len(r.Logs)-1].Pain = "7" }, Back, top(Strength), "barefoot.pain"},
		"pain not told":       {func(r *Records) { r.Logs[len(r.Logs)-1].Pain = "" }, Hold, at, ""},
		"red skin":            {func(r *Records) { r.Logs[len(r.Logs)-1].Skin = "red" }, Hold, at, "barefoot.skin"},
		"a warning sign":      {func(r *Records) { r.Allowed, r.Why = None, "a warning sign" }, Hold, Resting, "barefoot.allowed"},
		"a short sign cleared": {func(r *Records) { r.Closed = []Closed{{"s", r.Today, 5, false}} }, Back, At{Strength, 0, 0},
			"barefoot.cleared"},
		"a long sign cleared":   {func(r *Records) { r.Closed = []Closed{{"s", r.Today, 14, false}} }, Back, At{}, "barefoot.cleared"},
		"a bone cleared":        {func(r *Records) { r.Closed = []Closed{{"s", r.Today, 3, true}} }, Back, At{}, "barefoot.cleared"},
		"the gate closes":       {func(r *Records) { r.Gate = gateAt(Walking) }, Back, top(Walking), "barefoot.gate"},
		"volume high":           {func(r *Records) { r.Volume = load.High }, Hold, at, ""},
		"volume unknown":        {func(r *Records) { r.Volume = load.Unknown }, Hold, at, ""},
		"strength leads":        {func(r *Records) { r.Lead.Dial = load.Strength }, Hold, at, ""},
		"a week missed":         {func(r *Records) { r.Today = r.Today.Add(8) }, Hold, at, "barefoot.missed"},
		"three weeks missed":    {func(r *Records) { r.Today = r.Today.Add(22) }, Back, top(Strength), "barefoot.missed"},
		"five weeks missed":     {func(r *Records) { r.Today = r.Today.Add(36) }, Back, At{}, "barefoot.missed"},
		"a go beyond the stage": {func(r *Records) { r.Logs[len(r.Logs)-1].Stage = RunWalk }, Hold, at, ""},
		"twice as much":         {func(r *Records) { r.Logs[len(r.Logs)-1].Contacts *= 2 }, Hold, at, ""},
		"three mornings missing": {func(r *Records) {
			for i := range 3 {
				r.Mornings[len(r.Mornings)-1-i].All = false
			}
		}, Hold, at, ""},
	} {
		t.Run(name, func(t *testing.T) {
			s := after(7, at, x.change)
			assert.Equal(t, x.want, s.Verdict, "%+v", s)
			assert.Equal(t, x.now, s.Now)
			assert.Equal(t, x.want == Up, s.Earned != nil)
			if x.rule != "" {
				assert.Equal(t, x.rule, s.Fired[0].Reason.Rule)
			} else if x.want == Hold {
				assert.NotEmpty(t, s.Waits, "says what it waits for")
			}
		})
	}
}

// The gait is looked at on bare feet before running, and again before the share grows.
func TestTheGaitIsLookedAtAgain(t *testing.T) {
	before := func(r *Records) { r.Rescreened = "" }
	s := after(7, top(Bouncing), before)
	assert.Equal(t, Hold, s.Verdict)
	assert.True(t, s.Rescreen)
	assert.False(t, after(7, At{Bouncing, 0, 0}, before).Rescreen)
	assert.Equal(t, Up, after(7, top(Bouncing), func(r *Records) { r.Rescreened = r.Today }).Verdict)
	assert.True(t, after(21, At{RunWalk, 0, 5}, func(r *Records) { r.Rescreened = monday.Add(-1) }).Rescreen)
	assert.False(t, after(14, top(Bouncing), func(r *Records) { r.Rescreened = monday.Add(-1) }).Rescreen, "within three weeks")
}

// A rest begins anew at home after seven quiet days.
func TestARestEnds(t *testing.T) {
	r := open(200)
	r.Moves = []Move{{On: monday, Verdict: Rest, To: Resting, Saw: 5}}
	for i := 1; i <= 7; i++ {
		r.Today = monday.Add(i)
		if i < 7 {
			assert.Equal(t, Hold, r.State().Verdict)
		}
		r.Mornings = append(r.Mornings, Morning{On: r.Today, All: true, Seq: int64(10 * i)})
	}
	s := r.State()
	assert.Equal(t, Return, s.Verdict)
	assert.Equal(t, At{}, s.To)
}

// Days of a week: Tuesday's run is quality, Friday's long, Monday is hard.
func week1() []Day {
	out := []Day{{On: monday.Add(-1)}}
	for i := range 7 {
		out = append(out, Day{On: monday.Add(i)})
	}
	out[1].Hard = true
	out[2].Run, out[3].Run, out[5].Run, out[6].Run, out[7].Run = "quality", "easy", "easy", "easy", "long"
	out[1].Strength, out[4].Strength = true, true
	return out
}

func TestTheGoesOfAWeek(t *testing.T) {
	days := func(a At) []int {
		out := []int{}
		placed, _ := Place(a, week1(), monday, true, BareFeet)
		for _, p := range placed {
			out = append(out, p.On.Sub(monday))
		}
		return out
	}
	assert.Equal(t, []int{0, 1, 2, 3, 4, 5, 6}, days(At{}))
	assert.Equal(t, []int{0, 3}, days(At{Strength, 0, 0}))
	// Not on Monday, the day before quality; Tuesday is quality; Wednesday and Friday; Sunday is long and Saturday the day before it.
	assert.Equal(t, []int{2, 4}, days(At{Bouncing, 0, 0}))
	assert.Equal(t, []int{2, 4}, days(At{RunWalk, 0, 5}))
	placed, left := Place(At{Share, 0, 9}, week1(), monday, true, BareFeet)
	assert.Empty(t, left)
	assert.Equal(t, 5, placed[0].Minutes)
	assert.Equal(t, 4, placed[1].Minutes)
	assert.Contains(t, placed[0].Words, "5 min bare, on firm, smooth ground")
	one, _ := Place(At{RunWalk, 0, 1}, week1(), monday, true, ThinShoe)
	assert.Len(t, one, 1, "a minute is not split")
	hard := week1()
	for i := range hard {
		hard[i].Hard = true
	}
	placed, left = Place(At{RunWalk, 0, 5}, hard, monday, true, BareFeet)
	assert.Empty(t, placed)
	assert.NotEmpty(t, left)
	sore, _ := Place(At{Bouncing, 0, 0}, week1()[3:], monday.Add(2), false, BareFeet)
	for _, p := range sore {
		assert.NotEqual(t, monday.Add(2), p.On, "not today, with calf or sole sore")
	}
	half := week1()
	half[3].Done, half[3].Minutes = true, 5 // on Wednesday
	placed, _ = Place(At{Share, 0, 9}, half, monday.Add(2), true, BareFeet)
	assert.Len(t, placed, 1, "what was done of the week is not placed again")
	assert.Equal(t, 4, placed[0].Minutes)
	assert.Equal(t, monday.Add(4), placed[0].On)
	half[3].Minutes = 9
	placed, left = Place(At{Share, 0, 9}, half, monday.Add(2), true, BareFeet)
	assert.Empty(t, placed)
	assert.Empty(t, left)
	done := week1()
	done[2].Done = true
	placed, _ = Place(At{Bouncing, 0, 0}, done, monday.Add(2), true, BareFeet)
	assert.Equal(t, monday.Add(3), placed[0].On, "a free day after Tuesday's")
}

func TestTheFirstGoOnAGroundIsHalf(t *testing.T) {
	d, half := First(At{Walking, 0, 0}.Dose(), "sand", false, false, nil)
	assert.True(t, half)
	assert.Equal(t, 5, d.Minutes)
	d, half = First(Dose{Contacts: 41}, "grass", true, false, []Log{{Surface: "grass"}})
	assert.True(t, half, "wet grass is new")
	assert.Equal(t, 21, d.Contacts)
	_, half = First(Dose{Minutes: 10}, "grass", false, false, []Log{{Surface: "grass", Wet: true}})
	assert.False(t, half)
}

func TestALogNobodyCanMeanIsRefused(t *testing.T) {
	good := Log{On: monday, Stage: Walking, Minutes: 10, Surface: "grass", Pain: "0", Skin: "fine", Bone: "no"}
	assert.NoError(t, good.Check(monday))
	for field, change := range map[string]func(*Log){"on": func(l *Log) { l.On = monday.Add(1) }, "stage": func(l *Log) { l.Stage = 6 },
		"minutes": func(l *Log) { l.Minutes = 0 }, "contacts": func(l *Log) { l.Stage = Bouncing }, "surface": func(l *Log) { l.Surface = "ice" },
		"pain": func(l *Log) { l.Pain = "much" }, "region": func(l *Log) { l.Region, l.Pain = body.Calf, "" },
		"side": func(l *Log) { l.Side = "up" }, "skin": func(l *Log) { l.Skin = "blue" }, "bone": func(l *Log) { l.Bone = "yes" }} {
		l := good
		change(&l)
		var refused *body.FieldError
		assert.ErrorAs(t, l.Check(monday), &refused)
		assert.Equal(t, field, refused.Field)
	}
	plan := Plan{On: monday, Aim: BareFeet, Cap: 20}
	assert.NoError(t, plan.Check(monday))
	for field, change := range map[string]func(*Plan){"aim": func(p *Plan) { p.Aim = "" }, "cap": func(p *Plan) { p.Cap = 0 },
		"shoe": func(p *Plan) { p.Aim = ThinShoe }, "wish": func(p *Plan) { p.Wish = "2025-01-01" },
		"on": func(p *Plan) { p.On = monday.Add(1) }, "start": func(p *Plan) { p.Aim, p.Start.Stage = StrengthOnly, Bouncing }} {
		p := plan
		change(&p)
		var refused *body.FieldError
		assert.ErrorAs(t, p.Check(monday), &refused)
		assert.Equal(t, field, refused.Field)
	}
}

// House rules: 28 days; a day told as a go and as a run is one.
func TestTheShareOfFourWeeks(t *testing.T) {
	today := body.Date("2026-05-29")
	bare := func(r load.Run) bool { return r.ID == "bare" }
	goes := []Log{{On: today, Stage: RunWalk, Minutes: 5}, {On: today.Add(-27), Stage: Share, Minutes: 6},
		{On: today.Add(-28), Stage: Share, Minutes: 50}, {On: today.Add(-3), Stage: Walking, Minutes: 30}}
	runs := []load.Run{{ID: "bare", On: today, Minutes: 7}, {On: today.Add(-1), Minutes: 93}, {On: today.Add(-40), Minutes: 500},
		{On: today.Add(-2), Minutes: 60, Word: "as usual"}}
	assert.Equal(t, Shared{Minutes: 13, Running: 100, Percent: 13}, ShareOf(goes, runs, bare, today))
	assert.Zero(t, ShareOf(goes, nil, bare, today).Percent, "no running, no share of it")
}

// Common practice, no source: half of what is planned on a ground that is new.
func TestANewGroundSaysItsHalf(t *testing.T) {
	all := NewGround(At{Walking, 0, 0}.Dose(), []Log{{Surface: "floor"}})
	assert.Contains(t, all, New{"floor, wet", "5 min"})
	assert.NotContains(t, all, New{"floor", "5 min"})
	assert.Contains(t, NewGround(At{Bouncing, 0, 0}.Dose(), nil), New{"grass", "20 contacts"})
	assert.Contains(t, NewGround(At{Strength, 0, 0}.Dose(), nil), New{"sand", ""})
}

func TestAGoHurtsFromLessWhereNoPainIsAccepted(t *testing.T) {
	assert.Equal(t, 5, HurtsAbove(house.Rules{}, false))
	assert.Equal(t, 2, HurtsAbove(house.Rules{}, true))
}

func TestTheStepsInAFewWordsAreTheLadder(t *testing.T) {
	all := Steps()
	for s, stage := range ladder {
		assert.Len(t, all[s], len(stage))
	}
	assert.Equal(t, []string{"10 min a day", "10 min twice a day"}, all[Walking])
	assert.Equal(t, []string{"first half of the session", "whole session"}, all[Strength])
	assert.Equal(t, "100 contacts", all[Bouncing][3])
}
