package permit_test

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/permit"
	"notchback/internal/core/permit/plain"
	"notchback/internal/core/refer"
)

const today = body.Date("2026-03-02")

func factsOf(sign refer.Sign, place body.Region, at body.Side, caution string, st plain.State) permit.Facts {
	p := body.NewProfile()
	p.BirthDate, p.MassKg = "1985-05-05", 70
	switch caution {
	case "under_18":
		p.BirthDate = "2010-05-05"
	case "balance":
		p.BirthDate = "1950-05-05"
	case "bmi":
		p.HeightCm, p.MassKg = 165, 90
	case "":
	default:
		p.Cautions = []string{caution}
	}
	f := permit.Facts{Today: today, Profile: p, Tests: map[body.Side]map[string]float64{body.Left: {}, body.Right: {}, body.Both: {}}}
	f.Told = today
	for _, s := range body.Sides {
		maps.Copy(f.Tests[s], plain.Passed)
		for m, v := range map[string]float64{"sole.touch": st.Touch, "toes.shape": st.Shape, "ankle.end_feel": st.Pinch,
			"squat.arch": st.Squats} {
			if v >= 0 {
				f.Tests[s][m] = v
			}
		}
	}
	if sign.ID != "" {
		f.Stops = []refer.Stop{{ID: "s", Sign: sign.ID, Region: place, Side: at, On: today, Recorded: today}}
	}
	return f
}

// things are all exercises, and the parts of a run.
func things() map[string]body.Demand {
	out := map[string]body.Demand{}
	for _, r := range catalog.Shipped.Rails {
		for _, x := range r.Exercises {
			out[x.ID] = x.Demand
		}
	}
	for _, part := range body.RunParts {
		out["run "+string(part)] = body.Demand{Level: 2, Trains: body.BothLegs, Bears: body.BothLegs, Position: "standing", Run: part}
	}
	return out
}

// The question over the full product: every exercise and part of a run, begun or in force, on each side,
// under every sign at every place and side, every caution, and unknown, bad and good tests. It is answered
// no where the sheet says no, and nowhere else: a wrong lock is as bad as a missing one.
func TestTheQuestionOverTheFullProduct(t *testing.T) {
	t.Parallel()
	all := things()
	signs := append([]refer.Sign{{}}, refer.Signs...)
	places, whole := placesAsked()
	cautions := []string{"", "ulcer"}
	for _, id := range permit.CautionIDs() {
		require.Contains(t, plain.Sheet, id, "the sheet names every caution")
		cautions = append(cautions, id)
	}
	ids := askedOnce(all)
	asked := 0
	if testing.Short() { // every eighth sign
		some := signs[:0:0]
		for i := 0; i < len(signs); i += 8 {
			some = append(some, signs[i])
		}
		signs = some
	}
	for _, sign := range signs {
		for nth, place := range places {
			for _, at := range []body.Side{body.Left, body.Right, body.Both} {
				if sign.ID == "" && (place != places[0] || at != body.Left) {
					continue
				}
				for _, caution := range cautions {
					for _, st := range plain.States {
						f := factsOf(sign, place, at, caution, st)
						cuts := f.Cuts()
						for i, id := range ids {
							if nth >= whole && (i+nth+asked)%11 != 0 {
								continue
							}
							x := all[id]
							for k, side := range []body.Side{body.Left, body.Right} {
								inForce := (asked+k)%2 == 0
								a := f.Judge(cuts, permit.Ask{Demand: x, Side: side, InForce: inForce})
								asked++
								if want := !plain.Forbidden(x, side, inForce, sign, place, at, caution, st); a.May() != want {
									t.Fatalf("%s, %s, in force %v, under “%s” at %s %s, caution %q, tests %s: may %v, the sheet says %v (%s)", id, side, inForce,
										sign.ID, at, place, caution, st.Name, a.May(), want, a.Says())
								}
								if !a.May() && a.Reasons[0].Opens == "" {
									t.Fatalf("%s: %s says nothing of what opens it", id, a.Says())
								}
							}
						}
					}
				}
			}
		}
	}
	t.Logf("asked %d times", asked)
}

// placesAsked are the places, the first of which are asked whole.
func placesAsked() (places []body.Region, whole int) {
	// A place counts by what it locks: below the knee its leg, above it and on the trunk both. One of each is
	// asked whole, every other place in turn with every eleventh thing.
	places = []body.Region{body.Calf, body.AboveKnee, body.WholePerson}
	whole = len(places)
	for _, r := range body.RegionNames {
		if !slices.Contains(places, r.ID) {
			places = append(places, r.ID)
		}
	}
	return places, whole
}

// askedOnce are things that differ in what they ask of the legs.
func askedOnce(all map[string]body.Demand) []string {
	ids := make([]string, 0, len(all))
	for id := range all {
		ids = append(ids, id)
	}
	slices.Sort(ids)
	// Things that ask the same of the legs are asked once.
	seen := map[string]bool{}
	ids = slices.DeleteFunc(ids, func(id string) bool {
		x := all[id]
		x.Main, x.Also = nil, nil
		key := fmt.Sprintf("%+v", x)
		again := seen[key]
		seen[key] = true
		return again
	})
	return ids
}

// Several at once: the answer is no exactly where one of them alone says no.
func TestPropertyLimitsIntersect(t *testing.T) {
	all := things()
	ids := make([]string, 0, len(all))
	for id := range all {
		ids = append(ids, id)
	}
	slices.Sort(ids)
	rapid.Check(t, func(t *rapid.T) {
		st := rapid.SampledFrom(plain.States).Draw(t, "tests")
		x := all[rapid.SampledFrom(ids).Draw(t, "what")]
		side := rapid.SampledFrom(body.Sides).Draw(t, "side")
		inForce := rapid.Bool().Draw(t, "in force")
		sum := factsOf(refer.Sign{}, "", "", "", st)
		no := plain.Forbidden(x, side, inForce, refer.Sign{}, "", "", "", st)
		cautions := rapid.SliceOfNDistinct(rapid.SampledFrom([]string{"steroid", "bone", "energy", "pregnancy", "surgery", "hardware",
			"inflammatory", "clot", "circulation", "fall", "sensation"}), 0, 4, rapid.ID).Draw(t, "cautions")
		sum.Profile.Cautions = cautions
		for _, c := range cautions {
			no = no || plain.Forbidden(x, side, inForce, refer.Sign{}, "", "", c, st)
		}
		for i := range rapid.IntRange(0, 3).Draw(t, "signs") {
			sign := rapid.SampledFrom(refer.Signs).Draw(t, "sign")
			place, at := rapid.SampledFrom(body.RegionNames).Draw(t, "place").ID,
				rapid.SampledFrom([]body.Side{body.Left, body.Right, body.Both}).Draw(t, "at")
			if sign.ID == "laces" {
				continue // a second one is a stop: below
			}
			sum.Stops = append(sum.Stops, refer.Stop{ID: fmt.Sprint(i), Sign: sign.ID, Region: place, Side: at, On: today, Recorded: today})
			no = no || plain.Forbidden(x, side, inForce, sign, place, at, "", st)
			for _, c := range cautions {
				no = no || plain.Forbidden(x, side, inForce, sign, place, at, c, st)
			}
		}
		if a := sum.May(permit.Ask{Demand: x, Side: side, InForce: inForce}); a.May() == no {
			t.Fatalf("may %v, one by one %v: %s", a.May(), !no, a.Says())
		}
	})
}

func ask(id string, side body.Side) permit.Ask {
	return permit.Ask{Demand: things()[id], Side: side, InForce: true}
}

// What a clinician opens is opened, and nothing more.
func TestAClearanceOpensWhatItNames(t *testing.T) {
	level, bare, yes, supported := 2, 1, true, body.Supported
	f := factsOf(refer.Sign{ID: "swelling"}, body.Calf, body.Left, "", plain.States[2])
	clear := func(o *refer.Opening) permit.Facts {
		g := f
		g.Stops = []refer.Stop{f.Stops[0]}
		g.Stops[0].Clearances = []refer.Clearance{{Kind: "clinician", Who: "GP", On: today, Limits: "slowly", Opens: o}}
		return g
	}
	for _, c := range []struct {
		name    string
		opens   *refer.Opening
		may, no []string
	}{
		{"two legs", &refer.Opening{Level: &level}, []string{"two_floor", "side_out", "press_seated"},
			[]string{"one_floor", "two_step", "hands_two", "balance_open", "run easy", "calf_roller_one"}},
		{"and below level", &refer.Opening{Level: &level, Edge: &yes}, []string{"two_step"}, []string{"one_step", "run easy"}},
		{"and bare walking", &refer.Opening{Level: &level, Bare: &bare}, []string{"balance_open", "walk_heels"},
			[]string{"bare_squat", "run easy"}},
		{"and the hands' bouncing", &refer.Opening{Level: &level, Impact: &supported}, []string{"hands_two"}, []string{"free_two", "hands_one"}},
		{"and the steps back to running", &refer.Opening{Level: &level, Run: "steps"}, []string{"run steps"},
			[]string{"run easy", "run quality"}},
		{"and easy running", &refer.Opening{Level: &level, Run: "easy"}, []string{"run steps", "run easy"},
			[]string{"run quality", "run strides", "run rise", "run hills"}},
		{"running alone", &refer.Opening{Run: "all"}, nil, []string{"two_floor", "press_seated"}},
	} {
		g := clear(c.opens)
		for _, id := range c.may {
			a := g.May(ask(id, body.Left))
			assert.True(t, a.May(), "%s: %s: %s", c.name, id, a.Says())
		}
		for _, id := range c.no {
			assert.False(t, g.May(ask(id, body.Left)).May(), "%s: %s", c.name, id)
		}
	}
	old := clear(nil)
	a := old.May(ask("one_floor", body.Left))
	assert.True(t, a.May(), "a stop cleared in the words of an earlier release stays as it was")
	assert.True(t, a.NoUp, "but nothing of that leg moves up until its words are entered")
	assert.False(t, old.May(ask("one_floor", body.Right)).NoUp)
}

// Limits speak for their own caution, replace only what they name, and never cover one answered later.
func TestLimitsUnderACaution(t *testing.T) {
	four, yes := 4, true
	f := factsOf(refer.Sign{}, "", "", "bone", plain.States[2])
	assert.False(t, f.May(ask("one_dumbbell", body.Left)).May())
	f.Limits = []refer.Limit{{For: "bone", Side: body.Both, Kind: "clinician", Who: "GP", On: today, Opens: refer.Opening{Level: &four}}}
	assert.True(t, f.May(ask("one_dumbbell", body.Left)).May())
	assert.False(t, f.May(ask("free_two", body.Left)).May(), "bouncing was not named")
	f.Profile.Cautions = []string{"bone", "steroid"}
	assert.False(t, f.May(ask("one_dumbbell", body.Left)).May(), "a later caution is its own")
	f.Limits = append(f.Limits, refer.Limit{For: "steroid", Side: body.Both, Kind: "clinician", Who: "GP", On: today.Add(-10),
		Opens: refer.Opening{Level: &four, Edge: &yes}})
	f.Profile.CautionNotes = body.CautionNotes{"steroid": {Answered: today.Add(-2), On: today.Add(-4), Side: body.Left}}
	assert.False(t, f.May(ask("one_dumbbell", body.Left)).May(), "limits older than the answer do not cover it")
	assert.True(t, f.May(ask("one_dumbbell", body.Right)).May(), "an injection limits its own leg")
	f.Today = today.Add(40)
	assert.True(t, f.May(ask("one_dumbbell", body.Left)).May(), "and lapses after six weeks")
	f.Profile.CautionNotes["steroid"] = body.CautionNote{Answered: today.Add(-2), Side: body.Left}
	assert.False(t, f.May(ask("one_dumbbell", body.Left)).May(), "a day nobody knows is today")
}

// Nobody is stuck under a caution: with everything opened for it, everything is open again.
func TestACautionWithEverythingOpened(t *testing.T) {
	four, five, free, yes := 4, 5, body.FreeHops, true
	all := refer.Opening{Level: &four, Impact: &free, Bare: &five, Edge: &yes, Pressure: &yes, Cold: &yes, Range: &yes, Maximal: &yes,
		Run: "all"}
	ids := slices.Sorted(maps.Keys(things()))
	for _, c := range permit.CautionIDs() {
		f := factsOf(refer.Sign{}, "", "", c, plain.States[2])
		f.Limits = []refer.Limit{{For: c, Side: body.Both, Kind: "clinician", Who: "GP", On: today, Opens: all}}
		f.Taken = map[string]body.Date{"sole.touch|left": today, "sole.touch|right": today}
		for _, id := range ids {
			a := f.May(permit.Ask{Demand: things()[id], Side: body.Left})
			if alone := slices.Contains(things()[id].Tags, body.EyesClosed) ||
				slices.Contains(things()[id].Tags, body.Block); alone && (c == "fall" || c == "balance") {
				continue // beside the coach only
			}
			if lying := things()[id].Position; c == "pregnancy" && (lying == "prone" || lying == "supine") {
				continue // until birth, whoever says what
			}
			assert.True(t, a.May(), "%s under %s: %s", id, c, a.Says())
		}
	}
}

// Diabetes with feeling tested and never an ulcer is the milder row.
func TestDiabetesWithFeeling(t *testing.T) {
	f := factsOf(refer.Sign{}, "", "", "diabetes", plain.States[2])
	f.Taken = map[string]body.Date{"sole.touch|left": today.Add(-30), "sole.touch|right": today.Add(-30)}
	assert.True(t, f.May(ask("one_floor", body.Left)).May())
	assert.True(t, f.May(ask("balance_open", body.Left)).May())
	f.Taken["sole.touch|right"] = today.Add(-200)
	assert.False(t, f.May(ask("one_floor", body.Left)).May(), "tested too long ago")
	f.Profile.Touch = body.Touch{Left: true, Right: true, On: today}
	assert.False(t, f.May(ask("one_floor", body.Left)).May(), "the runner's word is not enough with diabetes")
}

// An illness takes everything until two days free of it, then half for as long as it lasted.
func TestAfterAnIllness(t *testing.T) {
	f := factsOf(refer.Sign{ID: "ill"}, body.WholePerson, body.Both, "", plain.States[2])
	f.Stops[0].On = today.Add(-8)
	assert.False(t, f.May(ask("trunk_brace", body.Both)).May())
	f.Stops[0].Clearances = []refer.Clearance{{Kind: "healed", Who: "Runner", On: today.Add(-1)}}
	assert.False(t, f.May(ask("side_out", body.Left)).May(), "one day free of it")
	f.Today = today.Add(1)
	a := f.May(ask("two_floor", body.Left))
	assert.True(t, a.May() && a.HalfSets && a.NoUp)
	assert.Equal(t, "2 × 8", a.Of(body.Dose{Kind: body.Repetitions, Sets: 3, Reps: 8}).String())
	assert.False(t, f.May(ask("one_floor", body.Left)).May(), "no one-leg work in the first three days")
	f.Today = today.Add(4)
	assert.True(t, f.May(ask("one_floor", body.Left)).May())
	f.Today = today.Add(8) // seven days ill, from today − 8 to today − 1
	assert.False(t, f.May(ask("one_floor", body.Left)).HalfSets)
}

// Tingling once is noted; a second time within 14 days it is a stop.
func TestTinglingTwice(t *testing.T) {
	f := factsOf(refer.Sign{ID: "laces"}, body.TopOfFoot, body.Left, "", plain.States[2])
	assert.True(t, f.May(ask("one_floor", body.Left)).May())
	f.Stops = append(f.Stops, refer.Stop{ID: "t", Sign: "laces", Region: body.TopOfFoot, Side: body.Left, On: today.Add(-10)})
	assert.False(t, f.May(ask("one_floor", body.Left)).May())
	assert.False(t, f.May(ask("run easy", body.Both)).May())
	f.Stops[1].On = today.Add(-20)
	assert.True(t, f.May(ask("one_floor", body.Left)).May())
	for name, c := range map[string]struct {
		days    int
		side    body.Side
		cleared string // how the second is over
		mistake bool   // the first was
		may     bool
	}{
		"14 days apart": {14, body.Left, "", false, false}, "15 days apart": {15, body.Left, "", false, true},
		"the same day":   {0, body.Left, "", false, false},
		"the other foot": {3, body.Right, "", false, true}, "both feet": {3, body.Both, "", false, false},
		"the first by mistake":  {3, body.Left, "", true, true},
		"over, says the runner": {3, body.Left, "healed", false, false}, "seen by a clinician": {3, body.Left, "clinician", false, true},
		"by mistake": {3, body.Left, "reviewed", false, true},
	} {
		f := factsOf(refer.Sign{ID: "laces"}, body.TopOfFoot, body.Left, "", plain.States[2])
		first := refer.Stop{ID: "t", Sign: "laces", Region: body.TopOfFoot, Side: c.side, On: today.Add(-c.days)}
		if c.mistake {
			first.Clearances = []refer.Clearance{{Kind: "reviewed", Who: "Coach", On: first.On}}
		}
		if c.cleared != "" {
			f.Stops[0].Clearances = []refer.Clearance{{Kind: c.cleared, Who: "Somebody", On: today}}
		}
		f.Stops = append(f.Stops, first)
		assert.Equal(t, c.may, f.May(ask("one_floor", body.Left)).May(), name)
	}
}

// A blister keeps its foot from bare work, bouncing, pressure and cold until the runner says it is healed; without
// feeling it locks both legs.
func TestABlister(t *testing.T) {
	f := factsOf(refer.Sign{ID: "blister"}, body.Arch, body.Left, "", plain.States[2])
	may := func(id string, leg body.Side) bool { return f.May(ask(id, leg)).May() }
	for _, id := range []string{"bare_squat", "hands_one", "calf_roller_one"} {
		assert.False(t, may(id, body.Left), id)
	}
	assert.True(t, may("hands_one", body.Right))
	assert.True(t, may("one_floor", body.Left))
	assert.True(t, may("run easy", body.Both))
	f.Profile.Cautions = []string{"sensation"}
	assert.False(t, may("one_floor", body.Right))
	assert.False(t, may("run easy", body.Both))
	f.Profile.Cautions = nil
	f.Stops[0].Clearances = []refer.Clearance{{Kind: "healed", Who: "Runner", On: today}}
	assert.False(t, may("hands_one", body.Left), "not on the same day")
	f.Stops[0].On = today.Add(-1)
	for _, id := range []string{"bare_squat", "hands_one", "calf_roller_one"} {
		assert.True(t, may(id, body.Left), "%s, healed", id)
	}
}

// Where a shin hurts for three weeks, or is named without hurting, there is no pattern yet.
func TestAShinThatIsNoPattern(t *testing.T) {
	for _, c := range []struct {
		days, worst, usual int
		want               bool
	}{{22, 1, 0, true}, {22, 0, 1, true}, {21, 3, 3, false}, {60, 0, 0, false}} {
		f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
		f.Profile.Symptoms = []body.Symptom{{Region: body.Shin, Side: body.Left, Worst: c.worst, Baseline: c.usual, Since: today.Add(-c.days)}}
		assert.Equal(t, c.want, len(f.Patterns()) > 0, "%v", c)
	}
}

// The patterns that lock, on their own side, each by what shows it.
func TestPatternsLockTheirOwnSide(t *testing.T) {
	for _, c := range []struct {
		name    string
		change  func(*permit.Facts)
		no, may []string
	}{
		{"growing", func(f *permit.Facts) {
			f.Profile.BirthDate = "2012-01-01"
			f.Profile.Symptoms = []body.Symptom{{Region: body.HeelSole, Side: body.Left, Worst: 4}}
		}, []string{"one_floor", "hands_two", "two_step", "run rise"}, []string{"two_floor", "run easy", "balance_open"}},
		{"toe_joint", func(f *permit.Facts) {
			f.Faults = map[body.Side][]string{body.Left: {"toe.passive_extension:joint_pain"}}
		}, []string{"toes_wall", "strap_pull", "tucked_rocks", "towel_two", "towel_few"}, []string{"two_floor", "toes_seated"}},
		{"front_pinch", func(f *permit.Facts) { f.Faults = map[body.Side][]string{body.Left: {"ankle.end_feel:painful"}} },
			[]string{"ankle_rocks", "kneeling_foot_raised", "toes_squat"}, []string{"two_floor"}},
		{"shin", func(f *permit.Facts) {
			f.Profile.Symptoms = []body.Symptom{{Region: body.Shin, Side: body.Left, Worst: 3, Since: today.Add(-22)}}
		}, []string{"one_floor", "hands_two", "shin_outer_ball", "run rise"}, []string{"two_floor", "run easy"}},
		{"few_raises", func(f *permit.Facts) {
			f.Tests[body.Left]["calf.raises_straight"], f.Tests[body.Right]["calf.raises_straight"] = 2, 10
		}, []string{"one_floor", "two_step", "bare_squat"}, []string{"two_floor", "balance_open"}},
		{"no_turn", func(f *permit.Facts) { f.Faults = map[body.Side][]string{body.Left: {"calf.raises_straight:no_turn"}} },
			[]string{"one_floor"}, []string{"two_floor"}},
		{"flatter", func(f *permit.Facts) { f.Flatter = map[body.Side]bool{body.Left: true} }, []string{"one_floor"}, []string{"two_floor"}},
		{"inner_swelling", func(f *permit.Facts) {
			f.Stops = []refer.Stop{{Sign: "old_swelling", Region: body.InnerAnkle, Side: body.Left, Which: []string{"behind_inner"}, On: today}}
		}, []string{"one_floor"}, []string{"two_floor"}},
		{"joint_swelling", func(f *permit.Facts) {
			f.Stops = []refer.Stop{{Sign: "old_swelling", Region: body.BigToe, Side: body.Left, Which: []string{"joint"}, On: today}}
		}, []string{"one_floor"}, []string{"two_floor", "two_step"}},
		{"both_heels", func(f *permit.Facts) {
			f.Sore = []permit.Mark{{Region: body.HeelSole, Side: body.Left, Pain: 3, On: today},
				{Region: body.HeelSole, Side: body.Right, Pain: 3, On: today}}
			f.Stiff = map[body.Side]int{body.Left: 40}
		}, []string{"one_floor"}, []string{"two_floor"}},
	} {
		f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
		c.change(&f)
		ps := f.Patterns()
		require.NotEmpty(t, ps, c.name)
		assert.Equal(t, "pattern."+c.name, ps[0].ID)
		assert.Equal(t, body.Left, ps[0].Side)
		for _, id := range c.no {
			a := f.May(ask(id, body.Left))
			assert.False(t, a.May(), "%s: %s", c.name, id)
			for _, r := range a.Reasons {
				if r.Cut == ps[0].ID {
					assert.Equal(t, ps[0].Coach, strings.Contains(r.Opens, "the coach after 28 quiet days"), "%s: %s", c.name, r.Opens)
				}
			}
		}
		for _, id := range c.may {
			a := f.May(ask(id, body.Left))
			assert.True(t, a.May(), "%s: %s: %s", c.name, id, a.Says())
		}
		if c.name != "both_heels" {
			assert.True(t, f.May(ask("one_floor", body.Right)).May() || c.name == "growing", "%s: the other leg goes on", c.name)
		}
		four, yes, free := 4, true, body.FreeHops
		f.Limits = []refer.Limit{{For: "pattern." + c.name, Side: body.Both, Kind: "clinician", Who: "GP", On: today,
			Opens: refer.Opening{Level: &four, Impact: &free, Edge: &yes, Range: &yes, Maximal: &yes, Run: "all", Pressure: &yes}}}
		if c.name != "growing" {
			assert.True(t, f.May(ask("one_floor", body.Left)).May(), "%s: a finding opens it", c.name)
		}
	}
	assert.Len(t, permit.PatternIDs(), 10, "every pattern has its row above")
}

// A sore place takes what it does not bear, at the same day's number, and gives it back by a lower one.
func TestSorePlaces(t *testing.T) {
	f := factsOf(refer.Sign{}, "", "", "", plain.States[2])
	at := func(r body.Region, pain int) permit.Facts {
		g := f
		g.Marks = []permit.Mark{{Region: r, Side: body.Left, Pain: pain, On: today}}
		return g
	}
	for _, c := range []struct {
		r    body.Region
		most int
		no   string
	}{{body.HeelBack, 2, "two_step"}, {body.Achilles, 2, "lower_straight"}, {body.Ball, 2, "towel_two"}, {body.Ball, 2, "towel_few"},
		{body.AboveKnee, 5, "one_floor"}, {body.AboveKnee, 5, "hands_two"}} {
		low, high := at(c.r, c.most), at(c.r, c.most+1)
		assert.True(t, low.May(ask(c.no, body.Left)).May(), "%s at %d: %s", c.r, c.most, c.no)
		assert.False(t, high.May(ask(c.no, body.Left)).May(), "%s at %d: %s", c.r, c.most+1, c.no)
		assert.True(t, high.May(ask("press_seated", body.Left)).May())
	}
	bounce := body.Demand{Level: 2, Trains: body.OneSide, Bears: body.TrainedLeg, Position: "standing"}
	for _, bare := range []bool{false, true} {
		for impact, may := range map[body.Impact]bool{body.NoImpact: true, body.Supported: !bare, body.FreeHops: !bare} {
			bounce.Bare, bounce.Impact = bare, impact
			a := at(body.Ball, 3).May(permit.Ask{Demand: bounce, Side: body.Left})
			assert.Equal(t, may, a.May(), "a sore ball, bare %v, %s: %s", bare, impact, a.Says())
		}
	}
	g := f
	g.Pauses = []permit.Mark{{Region: body.Calf, Side: body.Left, Pain: 7, On: today}}
	for _, id := range []string{"one_floor", "hands_two", "run quality", "run rise", "run strides"} {
		a := g.May(ask(id, body.Left))
		assert.False(t, a.May(), id)
		assert.Equal(t, permit.Waits, a.Sort(), "a pause keeps the dose")
	}
	assert.True(t, g.May(ask("two_floor", body.Left)).May())
	assert.True(t, g.May(ask("one_floor", body.Right)).May())
	assert.True(t, g.May(ask("run easy", body.Both)).May())
}
