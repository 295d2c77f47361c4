package core_test

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/permit/plain"
	"notchback/internal/core/screen"
)

const approachDay = body.Date("2026-03-02")

// room is a runner under an approach, with what each question looks at.
type room struct {
	t  *testing.T
	in build.Input
}

func (r room) tested(values map[string]float64) room {
	for _, m := range screen.Measures {
		for _, side := range m.Sides() {
			if v, ok := values[m.ID]; ok {
				x := screen.Trial{Measure: m.ID, Side: side, Value: v, On: approachDay, Stop: "height"}
				if m.InContext {
					x.Context = &screen.Context{Pace: "easy", Shod: "shoes"}
				}
				r.in.Trials = append(r.in.Trials, x)
			}
		}
	}
	return r
}

func (r room) sore(at body.Region, usual, worst int) room {
	r.in.Profile.Symptoms = []body.Symptom{{Region: at, Side: body.Left, Baseline: usual, Worst: worst}}
	return r
}

// gate is the highest stage of bare work of a runner who passes every other test.
func (r room) gate(arch float64) string {
	passed := maps.Clone(plain.Passed)
	passed[body.ArchTwoFinger] = arch
	r = r.tested(passed)
	r.in.Profile.AskedOn = approachDay
	return fmt.Sprint(r.in.Facts().Gate().Cap)
}

// chosen says which of the rails a programme holds.
func (r room) chosen(ids ...string) string {
	var out []string
	for _, p := range build.Make(r.in).Rails {
		if p.Chosen && slices.Contains(ids, p.Rail) {
			out = append(out, p.Rail)
		}
	}
	slices.Sort(out)
	return strings.Join(out, " ")
}

func (r room) plan(id string) build.RailPlan {
	for _, p := range build.Make(r.in).Rails {
		if p.Rail == id {
			return p
		}
	}
	require.Fail(r.t, "no rail "+id)
	return build.RailPlan{}
}

// moves says what two sessions of an exercise lead to.
func (r room) moves(rail, exercise string, dose int, change func(*adjust.Log)) string {
	c, _ := catalog.Shipped.Find(rail)
	x, _ := c.Exercise(exercise)
	p := catalog.Prescription{ID: "p", Rail: rail, Side: body.Left, Exercise: exercise, Dose: x.Ladder[dose], From: approachDay.Add(-10)}
	in := adjust.Input{Rail: c, Current: p, Profile: r.in.Profile, Today: approachDay, House: r.in.House,
		Runs: []load.Run{{On: approachDay, Word: load.AsUsual}}, Limits: build.Limits(r.in, build.Load, r.in.Facts())(body.Left)}
	for d := -14; d <= 0; d++ {
		in.Mornings = append(in.Mornings, build.Morning{On: approachDay.Add(d), Region: body.WholePerson, Side: body.Both, Quiet: true,
			Seq: int64(100 + 10*d)})
	}
	for i, d := range []int{-5, -3} {
		l := adjust.Log{On: approachDay.Add(d), Prescription: p, RPE: 7, Source: "phone", Times: 1, Seq: int64(200 + i)}
		for range p.Dose.Sets {
			l.Done = append(l.Done, p.Dose.Amount())
		}
		change(&l)
		in.Logs = append(in.Logs, l)
	}
	v := adjust.Propose(in)
	return fmt.Sprintf("%s, %s", v.Verdict, v.To.Dose)
}

func (r room) cues(rail, exercise string) string {
	c, _ := catalog.Shipped.Find(rail)
	x, ok := c.Exercise(exercise)
	require.True(r.t, ok, exercise)
	return strings.Join(x.Under(func(q string) string { return r.in.House.Choice(r.in.Profile.Approaches, q) }).Cues, "; ")
}

func (r room) finding(id string) string {
	for _, f := range screen.Findings(r.in.Trials, r.in.Profile, r.in.Today, r.in.House) {
		if f.ID == id {
			return string(f.Verdict)
		}
	}
	return "none"
}

// outcome is what comes out of one question under each option.
type outcome struct {
	question string
	of       func(room) string
	want     map[string]string // empty: the words differ, whatever they are
}

// One for each question.
var outcomes = []outcome{
	{"sore_heel", func(r room) string {
		return r.sore(body.HeelSole, 2, 4).chosen("toe_calf", "calf_release", "sole_release", "easy_stretch")
	},
		map[string]string{"load": "calf_release toe_calf", "settle": "calf_release easy_stretch toe_calf",
			"release": "calf_release sole_release"}},
	{"tight_sole", func(r room) string {
		return r.tested(map[string]float64{"toe.loaded_extension": 5, "toe.passive_extension": 70}).chosen("sole_release", "fascia_rocks",
			"big_toe")
	}, map[string]string{"hand": "big_toe sole_release", "stretch": "big_toe fascia_rocks", "load": "big_toe"}},
	{"short_calf", func(r room) string {
		return r.tested(map[string]float64{"ankle.knee_to_wall": 4, "calf.raises_straight": 30}).chosen("ankle_bend", "calf_straight")
	}, map[string]string{"load": "ankle_bend calf_straight", "stretch": "ankle_bend"}},
	{"pressure", func(r room) string {
		return r.moves("calf_release", "calf_roller_two", 0, func(l *adjust.Log) { l.Pain = 6 })
	}, map[string]string{"five": "hold, 2 spots × 60 s", "bearable": "up, 3 spots × 60 s"}},
	{"sole_focus", func(r room) string { return r.cues("sole_release", "sole_thick_cylinder") },
		map[string]string{"outer": "", "inner": ""}},
	{"sore_shin", func(r room) string { return r.sore(body.Shin, 2, 3).chosen("shin_release", "shin") },
		map[string]string{"calm": "shin shin_release", "strengthen": "shin"}},
	{"toes", func(r room) string {
		return r.tested(map[string]float64{"toe.press": 1}).chosen("toe_press", "toe_grip")
	}, map[string]string{"long": "toe_press", "grip": "toe_grip", "both": "toe_grip toe_press"}},
	{"session_end", func(r room) string {
		return fmt.Sprint(build.Order("spring", r.in.House.Choice(r.in.Profile.Approaches, "session_end") == "bounce") > build.Order("strength",
			false))
	}, map[string]string{"strength": "false", "bounce": "true"}},
	{"barefoot", func(r room) string {
		return r.gate(2) + ", sound " + r.gate(0)
	}, map[string]string{"gate": "2, sound 5", "slow": "5, sound 5", "indoors": "2, sound 2"}},
	{"weight", func(r room) string { return r.cues("barefoot_strength", "bare_squat") }, map[string]string{"forefoot": "", "heels": ""}},
	{"start", func(r room) string {
		r = r.tested(map[string]float64{"ankle.knee_to_wall": 3, "gait.posture": 2})
		for _, p := range build.Make(r.in).Rails {
			if p.Chosen {
				return p.Rail
			}
		}
		return ""
	}, map[string]string{"foot": "ankle_bend", "hip": "trunk"}},
	{"inserts", func(r room) string {
		r.in.Profile.History.Prescribed = "insoles"
		return fmt.Sprint(strings.Contains(fmt.Sprint(build.Make(r.in).Retests), "prescriber"))
	}, map[string]string{"leave": "false", "review": "true"}},
	{"pain", func(r room) string {
		return r.moves("calf_straight", "one_floor", 1, func(l *adjust.Log) { l.Pain = 3 })
	}, map[string]string{"monitored": "hold, 3 × 8", "none": "back, 2 × 8"}},
	{"cramp", func(r room) string {
		return r.moves("calf_straight", "one_floor", 1, func(l *adjust.Log) { l.CrampAt = 6 })
	}, map[string]string{"subtract": "back, 3 × 5", "practise": "hold, 3 × 8"}},
	{"effort", func(r room) string {
		return r.moves("calf_straight", "one_floor", 1, func(l *adjust.Log) { l.RPE = 10 })
	}, map[string]string{"reserve": "hold, 3 × 8", "fatigue": "up, 3 × 10"}},
	{"around_runs", func(r room) string {
		r = r.tested(map[string]float64{"foot.short": 1})
		r.in.Profile.Runs = nil
		for d := range 7 { // every day a run, early
			r.in.Profile.Runs = append(r.in.Profile.Runs, body.FixedRun{Weekday: d, Minutes: 30, Quality: "easy"})
		}
		for _, d := range build.Make(r.in).Week.Days {
			for _, e := range d.Entries {
				if e.Rail == "short_foot" {
					return string(e.Slot)
				}
			}
		}
		return ""
	}, map[string]string{"away": "evening", "fresh": "before"}},
	{"often", func(r room) string {
		return fmt.Sprint(r.tested(map[string]float64{"foot.short": 1}).plan("short_foot").PerWeek)
	}, map[string]string{"few": "4", "daily": "5"}},
	{"cadence", func(r room) string {
		p := build.Make(r.tested(map[string]float64{"gait.cadence": 150}).in).Cadence
		if p == nil {
			return "left alone"
		}
		return fmt.Sprintf("%.0f", p.Target)
	}, map[string]string{"own": "158", "band": "165", "leave": "left alone"}},
	{"gait_lever", func(r room) string {
		return r.tested(map[string]float64{"gait.cadence": 155, "gait.posture": 2, "gait.sound": 2}).chosen("cadence", "drill_posture",
			"drill_quiet", "drill_takeoff")
	}, map[string]string{"chain": "drill_quiet", "cadence": "cadence"}},
	{"volume", func(r room) string {
		var runs []load.Run
		for d := range 35 {
			m := 20.0
			if d < 7 {
				m = 30
			}
			runs = append(runs, load.Run{On: approachDay.Add(-d), Minutes: m})
		}
		s, why := load.Volume(runs, r.in.Profile, approachDay, r.in.House)
		return string(s) + ", " + why.Rule
	}, map[string]string{"spike": "high, load.week", "ratio": "usual, load.ratio", "weighted": "usual, load.ratio"}},
	{"strike", func(r room) string {
		return r.tested(map[string]float64{"gait.strike": 0}).finding("gait.strike")
	}, map[string]string{"leave": "noted", "middle": "borderline"}},
	{"pronation", func(r room) string {
		return r.tested(map[string]float64{"foot.posture_index": 9}).finding("foot.posture_index")
	}, map[string]string{"movement": "noted", "fault": "short"}},
}

// Each question on which practitioners disagree changes what is built or judged: what comes out under every option, in one
// place. What a practitioner of each school expects is common practice, no source.
func TestEachApproachHasItsOutcome(t *testing.T) {
	for _, a := range house.Approaches {
		i := slices.IndexFunc(outcomes, func(x outcome) bool { return x.question == a.ID })
		if !assert.GreaterOrEqual(t, i, 0, "%s has no outcome", a.ID) {
			continue
		}
		row, seen := outcomes[i], map[string]string{}
		for _, o := range a.Options {
			r := approached(t, a.ID, o.ID)
			got := row.of(r)
			if want := row.want[o.ID]; want != "" {
				assert.Equal(t, want, got, "%s: %s", a.Question, o.Name)
			}
			seen[o.ID] = got
		}
		for x, got := range seen {
			for y, other := range seen {
				if x < y && !(a.ID == "volume" && x == "ratio" && y == "weighted") {
					assert.NotEqual(t, got, other, "%s: %s and %s", a.Question, x, y)
				}
			}
		}
	}
	assert.Len(t, outcomes, len(house.Approaches))
}

// approached is a runner with all the kit and every test good, under one option.
func approached(t *testing.T, question, option string) room {
	p := body.NewProfile()
	p.BirthDate, p.MassKg, p.LegMm, p.FootMm, p.BigToeMm = "1985-05-05", 70, 850, 260, 60
	p.WeeklyMinutes, p.SessionMinutes = 140, 60
	for d := range 7 {
		p.MinutesByDay[d] = 60
	}
	p.Runs = []body.FixedRun{{Weekday: 1, Minutes: 45, Quality: "easy"}, {Weekday: 5, Minutes: 45, Quality: "easy"}}
	p.Equipment = body.Equipment{DumbbellsKg: []float64{4, 12}, StepCm: 18, PlatesMm: []float64{10, 20}, Bands: []string{"light"},
		Strap: true, Roll: true, SoftBall: true, FirmBall: true, RollersCm: []float64{6, 12}}
	p.Touch = body.Touch{Left: true, Right: true, On: approachDay}
	p.Approaches = map[string]string{question: option}
	r := room{t, build.Input{Profile: p, Today: approachDay}}
	r = r.tested(map[string]float64{"toes.shape": 0, "ankle.end_feel": 0, "squat.arch": 0})
	return r
}
