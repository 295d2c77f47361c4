package build

import (
	"flag"
	"fmt"
	"maps"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/screen"
)

var madeRunners = flag.Int("runners", 680, "made-up runners to build for, spread over the rows of the finding table")

type judged struct {
	v  float64
	ok bool
}

var judgedValues = map[string]judged{}

// valueOf looks for a value of a measure that is judged so beside other trials: the one nearest to clear that is short,
// the best that is clear.
func valueOf(p body.Profile, id string, want screen.Verdict, beside []screen.Trial) (float64, bool) {
	key := fmt.Sprint(id, want, len(beside), p.Age(today)/10) // norms go by decades
	if j, known := judgedValues[key]; known {
		return j.v, j.ok
	}
	v, ok := findValue(p, id, want, beside)
	judgedValues[key] = judged{v, ok}
	return v, ok
}

func findValue(p body.Profile, id string, want screen.Verdict, beside []screen.Trial) (float64, bool) {
	m, _ := screen.FindMeasure(id)
	var tries []float64
	for i := range m.Options {
		tries = append(tries, float64(i))
	}
	if len(tries) == 0 {
		low, high := m.Min, m.Max
		if high <= low {
			high = 200
		}
		for k := range 41 {
			tries = append(tries, low+(high-low)*float64(k)/40)
		}
		if m.Better != "lower" {
			slices.Reverse(tries)
		}
	}
	for _, v := range tries {
		ts := slices.Clone(beside)
		for _, side := range m.Sides() {
			ts = append(ts, trialsOf(id, v, side)...)
		}
		for _, f := range screen.Findings(ts, p, today, house.Rules{}) {
			if f.Measure == id && f.Verdict == want && f.Limiter != "side_difference" {
				return v, true
			}
		}
	}
	return 0, false
}

func trialsOf(id string, v float64, side body.Side) []screen.Trial {
	t := screen.Trial{Measure: id, Side: side, Value: v, On: today}
	if m, _ := screen.FindMeasure(id); m.Station == "gait" || id == "gait.cadence" {
		t.Context = &screen.Context{Pace: "easy", Shod: "shoes"}
	}
	if id == "calf.raises_straight" || id == "calf.raises_bent" || id == "shin.raises" {
		t.Stop = "height"
	}
	return []screen.Trial{t}
}

// clear are trials of all that Build places or chooses by, each judged clear, but for the one found.
func clearBut(p body.Profile, found string) (ts []screen.Trial, short bool) {
	ids := []string{"toes.shape", "ankle.end_feel", "squat.arch", "squat.knee", "squat.heel", "foot.short", "toe.press", "toes.big_alone",
		"toes.others_alone", "toes.spread", "ankle.knee_to_wall", "toe.passive_height", "toe.active_height",
		"toe.passive_extension", "balance.open", "balance.closed", "calf.raises_straight", "calf.raises_bent", "shin.raises", "hold.forefoot_two",
		"hold.forefoot_one", "hop.supported", "reach.front", "reach.side", "reach.back", "reach.cross", "gait.posture", "gait.hips", "gait.arms"}
	ids = slices.DeleteFunc(ids, func(id string) bool { return id == found })
	if found != "" {
		ids = append(ids, found)
	}
	for _, id := range ids {
		m, ok := screen.FindMeasure(id)
		if !ok {
			continue
		}
		want := screen.Clear
		if id == found {
			want = screen.Short
		}
		var beside []screen.Trial
		if id == found {
			beside = ts
		}
		v, ok := valueOf(p, id, want, beside)
		if id == "gait.cadence" && !ok { // the school that leaves it alone judges it by nothing
			v, ok = 150, true
		}
		short = short || ok && id == found
		if !ok {
			continue
		}
		for _, side := range m.Sides() {
			ts = append(ts, trialsOf(id, v, side)...)
		}
	}
	return ts, short
}

// drawnRunner is an adult with kit, days and approaches drawn; no caution, no pain.
func drawnRunner(r *rand.Rand) body.Profile {
	p := profile()
	p.Symptoms, p.Cautions, p.Races, p.Goal = nil, nil, nil, ""
	p.BirthDate = body.Date(fmt.Sprintf("%d-05-05", 1970+r.IntN(30)))
	p.MassKg = 50 + float64(r.IntN(40))
	p.Runs = nil
	for _, d := range r.Perm(7)[:2+r.IntN(3)] {
		p.Runs = append(p.Runs, body.FixedRun{Weekday: d, Minutes: 30 + 10*r.IntN(4), Quality: "easy"})
	}
	for d := range 7 {
		p.MinutesByDay[d] = []int{10, 15, 20, 30}[r.IntN(4)]
	}
	p.Equipment = body.Equipment{DumbbellsKg: []float64{4, 8}, StepCm: 18, PlatesMm: []float64{10}, Strap: true, Roll: true,
		Bands: []string{"light"}, SoftBall: true}
	if r.IntN(4) == 0 {
		p.Equipment = body.Equipment{StepCm: 18, Roll: true, Strap: true, SoftBall: r.IntN(2) == 0}
	}
	if r.IntN(3) == 0 {
		p.Equipment.FirmBall, p.Equipment.RollersCm = true, []float64{12}
	}
	if r.IntN(6) == 0 {
		p.Goal = "barefoot"
	}
	p.Approaches = map[string]string{}
	for _, a := range house.Approaches {
		if r.IntN(4) == 0 {
			p.Approaches[a.ID] = a.Options[r.IntN(len(a.Options))].ID
		}
	}
	return p
}

// One thing found, or one sore place, everything else clear: Build chooses what a practitioner would, and nothing they
// would not, whoever the runner is. The table stands in finding_table_test.go.
func TestWhatIsChosenForAFinding(t *testing.T) {
	chosen, total := map[string]int{}, 0
	per := max(1, *madeRunners/len(findingTable))
	rails := map[string]bool{}
	for _, r := range catalog.Shipped.Rails {
		rails[r.ID] = true
	}
	for n, row := range findingTable {
		name := row.found + row.sore + fmt.Sprint(row.approach)
		if row.calm {
			name += ", calm"
		}
		for _, id := range slices.Concat(row.must, row.not) {
			require.True(t, rails[id], "%s names %s, which is no rail", name, id)
		}
		got, wrong, made := 0, map[string]int{}, 0
		instead := map[string]int{}
		for k := range per {
			in, short := foundIn(n, k, row)
			if !short {
				continue
			}
			made++
			has := map[string]bool{}
			for _, c := range Make(in).Rails {
				if c.Chosen {
					has[c.Rail] = true
					chosen[c.Rail]++
				}
			}
			if slices.ContainsFunc(row.must, func(id string) bool { return has[id] }) {
				got++
			} else {
				for id := range has {
					instead[id]++
				}
			}
			for _, id := range row.not {
				if has[id] {
					wrong[id]++
				}
			}
		}
		total += made
		assert.NotZero(t, made, "%s: no value of it is short", name)
		assert.GreaterOrEqual(t, 100*got, 95*made, "%s: %d of %d got one of %v (%s); they got %v", name, got, made, row.must, row.why, instead)
		assert.Empty(t, wrong, "%s: chosen against the table (%s)", name, row.why)
	}
	for _, r := range catalog.Shipped.Rails {
		_, coach := byHand[r.ID]
		assert.Equal(t, coach, chosen[r.ID] == 0, "%s was chosen for %d of %d", r.ID, chosen[r.ID], total)
		assert.LessOrEqual(t, 100*chosen[r.ID], 60*total, "%s is chosen for everybody", r.ID)
		t.Logf("%-20s %5.1f %%", r.ID, 100*float64(chosen[r.ID])/float64(max(1, total)))
	}
	t.Logf("%d runners, %d rows", total, len(findingTable))
}

// foundIn is the k-th runner with the one finding of a row; short says that a value of it is.
func foundIn(n, k int, row asked) (in Input, short bool) {
	r := rand.New(rand.NewPCG(uint64(n), uint64(k)))
	p := drawnRunner(r)
	for _, q := range []string{"toes", "tight_sole", "short_calf", "sore_heel", "sore_shin", "cadence", "gait_lever", "start"} {
		delete(p.Approaches, q) // the row's own, else the default
	}
	maps.Copy(p.Approaches, row.approach)
	if row.sore != "" {
		s := body.Symptom{Region: body.Region(row.sore), Side: body.Left, Baseline: 2, Worst: 3}
		if row.calm {
			s.Baseline, s.Worst = 4, 5
		}
		p.Symptoms = []body.Symptom{s}
	}
	ts, short := clearBut(p, row.found)
	if row.found != "" && !short {
		return in, false
	}
	in = Input{Profile: p, Trials: ts, Today: today}
	if k%8 == 0 { // twice the running of the weeks before
		for d, minutes := range map[int]float64{1: 80, 8: 40, 15: 40, 22: 40} {
			in.Runs = append(in.Runs, load.Run{On: today.Add(-d), Minutes: minutes})
		}
	}
	return in, true
}
