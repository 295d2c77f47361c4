package room

import (
	"fmt"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/record"
)

// course follows a runner day by day who does what is asked without a complaint, beside a coach who accepts what
// is proposed, and tests and builds again when a rail waits for it.
type course struct {
	t       *testing.T
	o       Chart
	n       int // of ids and reports
	ups     int
	choices build.Choices
}

func begin(t *testing.T) *course {
	p := body.NewProfile()
	p.BirthDate, p.MassKg, p.HeightCm, p.BigToeMm, p.FootMm, p.LegMm = "1985-05-05", 70, 175, 60, 260, 850
	p.Equipment = body.Equipment{DumbbellsKg: []float64{4, 6, 8, 12}, StepCm: 18, PlatesMm: []float64{5, 10, 20},
		Bands: []string{"light", "medium"}, Strap: true, Roll: true, SoftBall: true, FirmBall: true, RollersCm: []float64{6, 12}}
	p.WeeklyMinutes = 120
	p.Runs = []body.FixedRun{{Weekday: 1, Minutes: 40, Quality: "quality"}, {Weekday: 3, Minutes: 35, Quality: "easy"},
		{Weekday: 5, Minutes: 45, Quality: "easy"}}
	for d := range 7 {
		p.MinutesByDay[d] = 60
	}
	c := &course{t: t, o: Chart{Record: record.Record{Person: record.Person{ID: "r", Name: "Kit", Profile: p, FeelingFrom: outletDay},
		Tests: &record.Tests{}, Plan: &record.Plan{}, Reports: &record.Reports{}, Past: &record.Past{}, Door: &record.Door{}}, Today: outletDay,
		Catalogue: catalog.Shipped},
		choices: build.Choices{Also: []string{"calf_straight", "spring", "barefoot_strength"}}}
	c.fresh()
	c.visit()
	for range 15 {
		c.day()
	}
	require.Positive(t, c.ups, "climbs before anything happens")
	return c
}

func (c *course) id() string { c.n++; return fmt.Sprint("x", c.n) }

func (c *course) seq() int64 { c.n++; return int64(c.n) }

// fresh reads the runner again, as a chart is read.
func (c *course) fresh() {
	c.o.Prescriptions = adjust.Joint(c.o.Catalogue, c.o.Prescriptions, c.o.Profile.MassKg)
	c.o.memo = newMemo()
}

func (c *course) moment() time.Time { return c.o.Today.Time().Add(time.Duration(c.n) * time.Second) }

// visit takes every test that may be taken, as good as ever, and builds.
func (c *course) visit() {
	v := record.Screen{ID: c.id(), On: c.o.Today, Finished: true, Kind: screen.FullScreen}
	c.o.Screens = append([]record.Screen{v}, c.o.Screens...)
	now := &c.o.Screens[0]
	for _, m := range screen.Measures {
		value, asked := map[string]float64{"sole.touch": 0, "toes.shape": 0, "ankle.end_feel": 0, "squat.arch": 0, "calf.raises_straight": 22,
			"calf.raises_bent": 22, "shin.raises": 22,
			"toe.press": 3, "foot.short": 3, "toes.big_alone": 3, "toes.others_alone": 3, "toes.spread": 3, "balance.open": 40,
			"hold.forefoot_two": 40, "hold.forefoot_one": 40, "hop.supported": 40, "toe.passive_height": 40, "toe.active_height": 40}[m.ID]
		if !asked {
			continue
		}
		for _, side := range m.Sides() {
			if no, _ := screen.Barred(m, side, now.Trials, c.o.Circumstances(v.ID), c.o.House); !no {
				now.Trials = append(now.Trials, screen.Trial{ID: c.id(), Measure: m.ID, Side: side, Value: value, On: c.o.Today, Stop: "height"})
			}
		}
	}
	c.fresh()
	p, err := c.o.Draft(&c.choices)
	require.NoError(c.t, err)
	if p.Refuse != "" {
		return // nothing begins yet
	}
	rows := []catalog.Prescription{}
	for i, r := range p.Rails {
		for j := range r.Prescriptions {
			if x := &p.Rails[i].Prescriptions[j]; r.Chosen {
				x.ID, x.Set = c.id(), c.moment()
				rows = append(rows, *x)
			}
		}
	}
	if len(rows) == 0 {
		return
	}
	kept := func(x catalog.Prescription) bool {
		return slices.ContainsFunc(rows, func(y catalog.Prescription) bool { return y.Rail == x.Rail })
	}
	c.o.Rested = slices.DeleteFunc(append(c.o.Rested, c.o.Prescriptions...), kept)
	c.o.Programme, c.o.Prescriptions = &record.Programme{ID: c.id(), On: c.o.Today, Plan: p}, rows
	c.o.Days = dated(p.Week, c.o.Today, c.o.Today.Add(7*weeksAhead))
	c.fresh()
}

// day is a quiet morning, what the coach decides, the session and the run, and the night.
func (c *course) day() {
	c.morning()
	c.decide()
	if c.waits() && c.o.Today.Sub(c.o.Screens[0].On) >= 7 || c.o.Today.Sub(c.o.Screens[0].On) >= 56 {
		c.visit()
	}
	c.train()
	c.run()
	c.o.Today = c.o.Today.Add(1)
	c.fresh()
}

func (c *course) morning() {
	for _, w := range append(c.o.Watched(), body.Symptom{Region: body.HeelSole, Side: body.Both}) {
		c.o.Mornings = append(c.o.Mornings, build.Morning{ID: c.id(), On: c.o.Today, Region: w.Region, Side: w.Side, Seq: c.seq()})
	}
	c.o.Mornings = c.o.Mornings[max(0, len(c.o.Mornings)-600):]
	c.fresh()
}

func (c *course) decide() {
	for _, p := range c.o.Proposals() {
		coach := "Coach"
		switch {
		case p.Records():
			coach, p.To = "", p.From
		case p.Verdict == adjust.Hold || p.Verdict == adjust.Pending || !p.News:
			continue
		}
		if p.To.ID == "" {
			p.To.ID, p.To.Set = c.id(), c.moment()
		}
		if p.Verdict == adjust.Up {
			c.ups++
		}
		c.o.Decisions = append(c.o.Decisions, record.Decision{ID: c.id(), On: c.o.Today, Rail: p.Rail, Side: p.Side, Verdict: p.Verdict,
			Steps: p.Steps, Coach: coach, Seen: p.Seen, Rule: p.Fired[0].Reason.Rule, From: p.From.ID, To: p.To.ID})
		for i, row := range c.o.Prescriptions {
			if row.ID == p.From.ID {
				c.o.Prescriptions[i] = p.To
			}
		}
	}
	c.fresh()
}

func (c *course) train() {
	for _, it := range c.o.training(c.o.Today).items {
		for _, s := range it.sides {
			for _, p := range s.prescriptions {
				p.Dose = s.dose
				done := make([]int, p.Dose.TotalSets())
				for i := range done {
					done[i] = p.Dose.Amount()
				}
				c.o.Logs = append(c.o.Logs, adjust.Log{ID: c.id(), On: c.o.Today, Prescription: p, Done: done, Times: p.Dose.Times(), RPE: 6,
					Source: "phone", Seq: c.seq()})
			}
		}
	}
	c.o.Logs = slices.DeleteFunc(c.o.Logs, func(l adjust.Log) bool { return c.o.Today.Sub(l.On) > history })
	c.fresh()
}

func (c *course) run() {
	words, fixed := c.o.Facts().RunOn(c.o.Today)
	back := c.o.Facts().Back
	switch {
	case fixed != nil:
		c.o.Runs = append(c.o.Runs, load.Run{ID: c.id(), On: c.o.Today, Minutes: float64(fixed.Minutes), Km: 7, RPE: 4, Seq: c.seq()})
	case words != "" && back != nil && back.Phase == load.Stepped:
		c.o.Runs = append(c.o.Runs, load.Run{ID: c.id(), On: c.o.Today, Minutes: 30, Km: 4, RPE: 4, Seq: c.seq()})
	}
	c.fresh()
}

// waits reports whether a rail comes back by a new test alone.
func (c *course) waits() bool {
	return slices.ContainsFunc(c.o.Proposals(), func(p adjust.Proposal) bool { return p.Retest })
}

// missing says what still keeps the runner from where they were; empty when all is as before.
func (c *course) missing() string {
	for _, p := range c.o.Prescriptions {
		rail, _ := c.o.Catalogue.Find(p.Rail)
		x, _ := rail.Exercise(p.Exercise)
		if a := c.o.limits(p.Side).Reach(rail, p.Exercise, p.Dose).May(rail, x); p.Parked || !a.May() || a.NoUp || a.HalfSets {
			return fmt.Sprintf("%s %s: %s %s", p.Rail, p.Side, p.Text(), a.Says())
		}
	}
	for _, part := range body.RunParts {
		if a := c.o.Facts().Run(part); !a.May() && part != body.Steps {
			return fmt.Sprintf("running, %s: %s", part, a.Says())
		}
	}
	return ""
}

// comes follows the runner until nothing is missing, and they have moved up since, for at most so many days.
func (c *course) comes(back string, most int) {
	from, ups, rows := c.o.Today, c.ups, len(c.o.Prescriptions)
	for range most {
		c.day()
		if c.missing() == "" && c.ups > ups {
			assert.GreaterOrEqual(c.t, len(c.o.Prescriptions), rows, back)
			c.t.Logf("%s: back after %d days", back, c.o.Today.Sub(from))
			return
		}
	}
	c.t.Errorf("%s: after %d days %s; %d moves up", back, most, c.missing(), c.ups-ups)
}

var opened = func() refer.Opening {
	four, five, free, yes := 4, 5, body.FreeHops, true
	return refer.Opening{Level: &four, Impact: &free, Bare: &five, Edge: &yes, Pressure: &yes, Cold: &yes, Range: &yes, Maximal: &yes,
		Run: "all"}
}()

// Nobody is stuck: after every kind of sign, short or long, a runner whom a clinician opened everything for, or who
// said that a small one is over, comes back to every rail and to all running, and climbs again.
func TestAfterEverySignTheRunnerComesBack(t *testing.T) {
	t.Parallel()
	for i, s := range refer.Signs {
		for _, lasts := range []int{4, 20} {
			if !*everyState && lasts != []int{4, 20}[i%2] {
				continue // one of the two; both with the flag
			}
			t.Run(fmt.Sprintf("%s, %d days", s.ID, lasts), func(t *testing.T) {
				t.Parallel()
				c := begin(t)
				x := refer.Stop{ID: c.id(), Sign: s.ID, Region: s.Region, Side: body.Left, On: c.o.Today, Recorded: c.o.Today, Source: "phone",
					Which: []string{}, Seq: c.seq()}
				if x.Region == "" {
					x.Region = body.Calf
				}
				c.o.Stops = append(c.o.Stops, x)
				c.fresh()
				for range lasts {
					c.day()
				}
				kind := "clinician"
				if s.Class == refer.Small {
					kind = "healed"
				}
				word := refer.Clearance{ID: c.id(), Kind: kind, Who: "Dr Vane", On: c.o.Today, At: c.moment()}
				if kind == "clinician" {
					word.Opens = &opened
				}
				require.NoError(t, refer.CheckClearance(x, word, c.o.Today))
				c.o.Stops[0].Clearances = []refer.Clearance{word}
				c.fresh()
				c.comes("cleared", 200)
			})
		}
	}
}

// … after every caution, once its limits are recorded …
func TestUnderEveryCautionTheRunnerComesBack(t *testing.T) {
	t.Parallel()
	for _, id := range permit.CautionIDs() {
		t.Run(id, func(t *testing.T) {
			t.Parallel()
			c := begin(t)
			switch id {
			case "under_18":
				c.o.Profile.BirthDate, c.o.Profile.GuardianConsent = "2010-05-05", true
			case "balance":
				c.o.Profile.BirthDate = "1950-05-05"
			case "bmi":
				c.o.Profile.MassKg, c.o.Profile.HeightCm = 90, 165
			default:
				c.o.Profile.Cautions = []string{id}
				c.o.Profile.CautionNotes = map[string]body.CautionNote{id: {Answered: c.o.Today, Side: body.Both}}
			}
			c.fresh()
			for range 10 {
				c.day()
			}
			c.o.Limits = append(c.o.Limits, refer.Limit{ID: c.id(), For: id, Side: body.Both, Kind: "clinician", Who: "Dr Vane", On: c.o.Today,
				Opens: opened, Words: "all"})
			c.fresh()
			c.comes("opened", 120)
		})
	}
}

// … and after thirty days without a word: tested and placed anew, never above where they stood.
func TestAfterThirtyMissedDaysTheRunnerComesBack(t *testing.T) {
	t.Parallel()
	c := begin(t)
	before := c.o.Prescriptions
	c.o.Today = c.o.Today.Add(30)
	c.fresh()
	parked := 0
	for _, p := range c.o.Proposals() {
		if p.Verdict == adjust.Park {
			parked++
		}
	}
	assert.Equal(t, len(before), parked, "every rail waits for a new test")
	c.morning()
	c.decide()
	require.True(t, c.waits())
	c.visit()
	for _, p := range c.o.Prescriptions {
		i := slices.IndexFunc(before, func(b catalog.Prescription) bool { return b.Rail == p.Rail && b.Side == p.Side })
		if i < 0 {
			continue
		}
		rail, _ := c.o.Catalogue.Find(p.Rail)
		at := func(id string) int {
			return slices.IndexFunc(rail.Exercises, func(x catalog.Exercise) bool { return x.ID == id })
		}
		assert.LessOrEqual(t, at(p.Exercise), at(before[i].Exercise), "%s: %s, was %s", p.Rail, p.Text(), before[i].Text())
		if p.Exercise == before[i].Exercise {
			assert.LessOrEqual(t, p.Dose.Work(1, 70), before[i].Dose.Work(1, 70), p.Rail)
		}
	}
	c.comes("tested again", 60)
}
