package build

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/outcomes"
)

// built is all that is said of a runner: the programme, and where one of its sessions may be moved.
type built struct {
	Programme Programme
	Moves     []Cell
	Recheck   []body.Reason
	Usual     []Usual
}

// TestOutcomes draws runners, builds for them, lets some weeks pass and builds again.
func TestOutcomes(t *testing.T) {
	outcomes.Compare(t, 1600, func(seed uint64) any {
		r := rand.New(rand.NewPCG(seed, 5))
		if seed >= 600 {
			return days(r)
		}
		in := drawnInput(r)
		first := Make(in)
		if r.IntN(3) == 0 {
			return say(r, in, first)
		}
		later := in.weeksLater(r, first)
		return say(r, later, Make(later))
	})
}

func say(r *rand.Rand, in Input, p Programme) built {
	out := built{Programme: p, Usual: UsualMornings(in.Profile, in.Mornings, in.Today)}
	var chosen []RailPlan
	for _, c := range p.Rails {
		if c.Chosen {
			chosen = append(chosen, c)
		}
	}
	if len(chosen) > 0 {
		rail := chosen[r.IntN(len(chosen))].Rail
		out.Moves = Moves(in.Catalogue(), p.Rails, p.Week, in.Profile, rail, r.IntN(7), in.House)
	}
	changed := in.Profile
	changed.Runs = slices.Clone(changed.Runs)
	for i := range changed.Runs {
		changed.Runs[i].Weekday = (changed.Runs[i].Weekday + r.IntN(2)) % 7
	}
	out.Recheck = Recheck(in.Catalogue(), p.Rails, p.Week, changed, in.House)
	return out
}

// drawnInput is a runner of any kind before the first programme: tests weak, strong or missing, places sore or not.
func drawnInput(r *rand.Rand) Input {
	some := func(n int) bool { return r.IntN(n) == 0 }
	p := drawnRunner(r)
	for range r.IntN(3) {
		p.Symptoms = append(p.Symptoms, body.Symptom{Region: body.RegionNames[r.IntN(len(body.RegionNames))].ID, Side: body.Sides[r.IntN(2)],
			Baseline: r.IntN(7), Worst: r.IntN(9)})
	}
	for _, c := range refer.Cautions {
		if some(20) {
			p.Cautions = append(p.Cautions, c.ID)
		}
	}
	if some(6) {
		p.Runs[0].Quality = "quality"
	}
	if some(6) {
		p.Runs[len(p.Runs)-1].Quality, p.Runs[len(p.Runs)-1].Minutes = "long", 95
	}
	if some(5) {
		p.Races = []body.Race{{On: today.Add(r.IntN(40)), Km: 10, Minor: some(3)}}
	}
	if some(4) {
		p.Equipment.DumbbellsKg, p.Equipment.StepCm = [][]float64{{2, 4, 6}, {10, 16}, {5, 7.5, 10, 12.5, 20}}[r.IntN(3)], 18
	}
	if some(5) {
		p.Equipment.PlatesMm = []float64{5, 10, 20, 20}
	}
	p.Touch = body.Touch{Left: !some(15), Right: !some(15), On: today.Add(-r.IntN(100))}
	p.WeeklyMinutes, p.NotRunning = []int{0, 90, 150, 300}[r.IntN(4)], true
	in := Input{Profile: p, Today: today, Stalled: map[body.Side][]string{}}
	weak := some(2)
	for _, m := range screen.Measures {
		if !some(8) && !m.InContext && len(m.Parts) == 0 {
			in.Trials = append(in.Trials, drawnTrials(r, m, weak, today)...)
		}
	}
	if some(3) {
		for _, side := range body.Sides {
			in.Trials = append(in.Trials, screen.Trial{Measure: "calf.rm", Side: side, Value: p.MassKg + float64(r.IntN(100)-10),
				Parts: []float64{10, 5}, On: today})
		}
	}
	if some(8) {
		in.Stops = []refer.Stop{drawnStop(r)}
	}
	drawnDays(r, &in)
	if some(4) {
		in.Choices = drawnChoices(r)
	}
	if some(8) {
		in.House = house.Rules{Changed: map[string]float64{"build.calf.sets": float64(8 + r.IntN(8)), "build.calf.rails": float64(1 + r.IntN(2))}}
	}
	return in
}

// drawnDays are the mornings and runs of four weeks.
func drawnDays(r *rand.Rand, in *Input) {
	some := func(n int) bool { return r.IntN(n) == 0 }
	for d := -28; d <= 0; d++ {
		for _, s := range in.Profile.Symptoms {
			if !some(6) {
				pain := min(10, max(0, s.Baseline+r.IntN(4)-2+d/14))
				in.Mornings = append(in.Mornings, Morning{On: today.Add(d), Region: s.Region, Side: s.Side, Pain: pain, Seq: int64(d + 100)})
			}
		}
		if some(3) && in.Profile.WeeklyMinutes > 0 {
			in.Runs = append(in.Runs, load.Run{On: today.Add(d), Minutes: float64(20 + r.IntN(80)), Km: float64(r.IntN(16)), Seq: int64(d + 100)})
		}
	}
}

func highest(m screen.Measure) float64 {
	if len(m.Options) > 0 {
		return float64(len(m.Options) - 1)
	}
	return m.Max
}

func drawnTrials(r *rand.Rand, m screen.Measure, weak bool, on body.Date) (out []screen.Trial) {
	top := highest(m)
	if weak && len(m.Options) == 0 {
		top = m.Min + (m.Max-m.Min)/3
	}
	for _, side := range m.Sides() {
		t := screen.Trial{Measure: m.ID, Side: side, Value: math.Floor(m.Min + (top-m.Min)*r.Float64() + 0.5), On: on}
		if len(m.Stops) > 0 {
			t.Stop = m.Stops[r.IntN(len(m.Stops))].ID
		}
		out = append(out, t)
	}
	return out
}

func drawnStop(r *rand.Rand) refer.Stop {
	sign := refer.Signs[r.IntN(len(refer.Signs))]
	s := refer.Stop{ID: "s", Sign: sign.ID, Region: body.RegionNames[r.IntN(len(body.RegionNames))].ID,
		Side: []body.Side{body.Left, body.Right, body.Both}[r.IntN(3)], On: today.Add(-r.IntN(60))}
	s.Recorded = s.On
	if on := s.On.Add(1 + r.IntN(30)); r.IntN(3) > 0 && on <= today {
		level, bare, yes := r.IntN(5), r.IntN(6), r.IntN(2) == 0
		free := body.Impacts[r.IntN(3)]
		s.Clearances = []refer.Clearance{{Kind: "clinician", Who: "GP", On: on,
			Opens: &refer.Opening{Level: &level, Impact: &free, Bare: &bare, Edge: &yes, Range: &yes, Maximal: &yes, Run: "all"}}}
	}
	return s
}

func drawnChoices(r *rand.Rand) Choices {
	rail := func() catalog.Rail { return catalog.Shipped.Rails[r.IntN(len(catalog.Shipped.Rails))] }
	c := Choices{Why: map[string]string{}}
	for range 1 + r.IntN(4) {
		c.Also = append(c.Also, rail().ID)
		if r.IntN(2) == 0 {
			c.Why[c.Also[len(c.Also)-1]] = "wanted"
		}
	}
	c.Without = []string{rail().ID}
	x := rail().Exercises
	c.Excluded = []string{x[r.IntN(len(x))].ID}
	if r.IntN(2) == 0 {
		c.Days = []int{1, 3, 5}
	}
	return c
}

// weeksLater is the runner up to ten weeks on: doses moved, parked or rested, tests taken again, notches set by hand.
func (in Input) weeksLater(r *rand.Rand, p Programme) Input {
	some := func(n int) bool { return r.IntN(n) == 0 }
	out := in
	out.Built, out.Before, out.Was = today.Add(-1-r.IntN(70)), in.Choices, slices.Clone(in.Trials)
	for i := range out.Was {
		out.Was[i].On = out.Built
	}
	out.Trials = slices.Clone(out.Was)
	for _, m := range screen.Measures {
		if some(3) && len(m.Parts) == 0 && slices.ContainsFunc(out.Was, func(t screen.Trial) bool { return t.Measure == m.ID }) {
			again := drawnTrials(r, m, some(2), today.Add(-r.IntN(3)))
			out.Trials = slices.DeleteFunc(out.Trials, func(t screen.Trial) bool { return t.Measure == m.ID })
			if some(2) { // the same, or a little better or worse
				for i := range again {
					was, _ := screen.ReadEasy(out.Was, m.ID, again[i].Side)
					again[i].Value = min(highest(m), max(m.Min, was.Value+float64(r.IntN(3)-1)*max(1, m.Step)))
				}
			}
			out.Trials = append(out.Trials, again...)
		}
	}
	out.Done = map[string]body.Date{}
	for _, c := range p.Rails {
		if !c.Chosen {
			continue
		}
		rail, _ := in.Catalogue().Find(c.Rail)
		for i, pr := range c.Prescriptions {
			pr.ID, pr.From = fmt.Sprint(c.Rail, i), out.Built.Add(r.IntN(max(1, today.Sub(out.Built))))
			x := rail.Exercises[min(len(rail.Exercises)-1, rail.At(pr.Exercise)+r.IntN(3)/2)]
			if x.ID != pr.Exercise || some(2) {
				pr.Exercise, pr.Name, pr.Dose = x.ID, x.Name, x.Ladder[r.IntN(len(x.Ladder))]
			}
			if some(6) {
				pr.Parked, pr.Cause = true, []string{"parked", "missed", "retest"}[r.IntN(3)]
			}
			out.Done[pr.Exercise] = today.Add(-r.IntN(40))
			if some(8) {
				out.Rested = append(out.Rested, pr)
			} else {
				out.Current = append(out.Current, pr)
			}
			if some(10) {
				n := PinnedNotch{Rail: c.Rail, Side: pr.Side, Exercise: x.ID, Dose: x.Ladder[r.IntN(len(x.Ladder))]}
				out.Choices.Notches = append(slices.Clone(out.Choices.Notches), n)
				if some(2) {
					out.Before.Notches = append(slices.Clone(out.Before.Notches), n)
				}
			}
		}
	}
	if some(4) {
		out.Stalled = map[body.Side][]string{body.Left: {"ankle", "toe", "calf"}}
	}
	return out
}

// days draws what is planned beside runs, races and what was done, and says what may stand on its day.
func days(r *rand.Rand) any {
	p := drawnRunner(r)
	for i := range p.Runs {
		p.Runs[i].Quality = []string{"easy", "quality", "long"}[r.IntN(3)]
		p.Runs[i].Time = []string{"", "morning", "evening"}[r.IntN(3)]
		p.Runs[i].Minutes = 30 + r.IntN(90)
	}
	for range r.IntN(3) {
		p.Races = append(p.Races, body.Race{On: today.Add(r.IntN(34) - 3), Km: []float64{10, 21, 42}[r.IntN(3)], Minor: r.IntN(3) == 0})
	}
	draw := func(from, to int) (out []Standing) {
		for range r.IntN(14) {
			rail := catalog.Shipped.Rails[r.IntN(len(catalog.Shipped.Rails))]
			x := rail.Exercises[r.IntN(len(rail.Exercises))]
			out = append(out, Standing{On: today.Add(from + r.IntN(to-from+1)), Slot: catalog.Slots[r.IntN(len(catalog.Slots))], Rail: rail,
				Exercise: x, Dose: x.Ladder[r.IntN(len(x.Ladder))], Side: rail.Sides()[r.IntN(len(rail.Sides()))], Best: r.IntN(30)})
		}
		return out
	}
	planned, done := draw(0, 13), draw(-35, -1)
	c := NewCalendar(p, house.Rules{}, today, planned, slices.Values(done))
	out := []any{c.NoRoom(today)}
	for _, s := range planned {
		dose, no, note := c.Judge(s)
		out = append(out, dose, no, note)
	}
	return out
}
