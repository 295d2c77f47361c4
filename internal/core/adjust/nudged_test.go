package adjust

import (
	"fmt"
	"math/rand/v2"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
)

// nudges are small changes of one row's reports and decisions, each to a value that a rule turns at, or beside it. Drawn
// by ones and twos from a quiet runner they stand where drawn lives seldom come.
var nudges = []func(*rand.Rand, *Input){
	func(r *rand.Rand, in *Input) { anyLog(r, in).Pain = r.IntN(10) - 1 },
	func(r *rand.Rand, in *Input) { anyLog(r, in).RPE = r.IntN(8) + 4 - 5*(r.IntN(6)/5) },
	func(r *rand.Rand, in *Input) {
		l := anyLog(r, in)
		l.Done = slices.Clone(l.Done)
		if i := r.IntN(len(l.Done) + 1); i < len(l.Done) {
			l.Done[i] = max(0, l.Done[i]-r.IntN(9))
		} else {
			l.Done = l.Done[:r.IntN(i+1)]
		}
	},
	func(r *rand.Rand, in *Input) { anyLog(r, in).CrampAt = r.IntN(12) },
	func(r *rand.Rand, in *Input) { anyLog(r, in).Faults = []string{"height lost"} },
	func(r *rand.Rand, in *Input) { l := anyLog(r, in); l.On = l.On.Add(r.IntN(5) - 2) },
	func(r *rand.Rand, in *Input) { l := anyLog(r, in); l.Times = r.IntN(4) },
	func(r *rand.Rand, in *Input) { l := anyLog(r, in); l.Source = "coach" },
	func(r *rand.Rand, in *Input) {
		l := anyLog(r, in)
		was := *l
		was.Pain, was.RPE, was.Done = r.IntN(9)-1, r.IntN(11), slices.Clone(was.Done)
		if len(was.Done) > 0 {
			was.Done[0] /= 1 + r.IntN(2)
		}
		l.Was = []Log{was}
	},
	func(r *rand.Rand, in *Input) { // what was left open is answered later, or most of it
		l := anyLog(r, in)
		was := *l
		was.Pain, was.RPE = -1, []int{-1, was.RPE}[r.IntN(2)]
		if r.IntN(4) == 0 {
			was.CrampAt = 3
		}
		l.Was = []Log{was}
	},
	func(r *rand.Rand, in *Input) { // a second report of a day, of the same or the other leg
		l := *anyLog(r, in)
		l.Pain, l.Seq = r.IntN(7), l.Seq+int64(r.IntN(3))
		if r.IntN(3) == 0 {
			l.Prescription.Side = l.Prescription.Side.Other()
		}
		in.Logs = append(in.Logs, l)
	},
	func(r *rand.Rand, in *Input) { // what was done at another dose or exercise
		l := anyLog(r, in)
		x := in.Rail.Exercises[r.IntN(len(in.Rail.Exercises))]
		l.Prescription.ID = []string{l.Prescription.ID, "before"}[r.IntN(2)]
		l.Prescription.Exercise, l.Prescription.Dose = x.ID, x.Ladder[r.IntN(len(x.Ladder))]
		l.Done = slices.Repeat([]int{l.Prescription.Dose.Amount()}, l.Prescription.Dose.TotalSets())
	},
	func(r *rand.Rand, in *Input) { in.Logs = slices.Delete(in.Logs, 0, r.IntN(len(in.Logs)+1)) },
	func(r *rand.Rand, in *Input) { // two weeks of them
		in.Current.From, in.Logs = today.Add(-13-r.IntN(9)), nil
		pain := r.IntN(6)
		for _, d := range []int{-13, -10, -7, -5, -2, 0} {
			l := logOn(in.Current, d+r.IntN(2)-1)
			l.Pain = max(0, pain+r.IntN(3)-1)
			in.Logs = append(in.Logs, l)
			in.Mornings = append(in.Mornings, morningOn(d-1, r.IntN(3)), morningOn(d, r.IntN(3)), morningOn(d+1, r.IntN(3)))
		}
	},
	func(r *rand.Rand, in *Input) { anyMorning(r, in).Pain = r.IntN(7) },
	func(r *rand.Rand, in *Input) {
		m := anyMorning(r, in)
		m.Region, m.Side = body.Calf, body.Sides[r.IntN(2)]
	},
	func(r *rand.Rand, in *Input) { anyMorning(r, in).Quiet = true },
	func(r *rand.Rand, in *Input) { // rising, day after day
		for i, from := 0, r.IntN(2); i < 2+r.IntN(5); i++ {
			setMorning(in, -i, max(0, 4-i+from))
		}
	},
	func(r *rand.Rand, in *Input) {
		m := *anyMorning(r, in)
		m.Pain, m.Seq = r.IntN(7), m.Seq+int64(r.IntN(3))
		in.Mornings = append(in.Mornings, m)
	},
	func(r *rand.Rand, in *Input) {
		i := r.IntN(len(in.Mornings))
		in.Mornings = slices.Delete(in.Mornings, i, i+1)
	},
	func(r *rand.Rand, in *Input) { in.Moves = append(in.Moves, anyMove(r, in)) },
	func(r *rand.Rand, in *Input) {
		m := anyMove(r, in)
		m.Rail = "soleus"
		in.Others = append(in.Others, m)
	},
	func(r *rand.Rand, in *Input) { in.Current.From = today.Add(-age(r)) },
	func(r *rand.Rand, in *Input) {
		in.Current.Cause = []string{CauseUp, CauseBack, CauseCramp, CauseReturn, catalog.CausePlaced, "half dose"}[r.IntN(6)]
	},
	func(r *rand.Rand, in *Input) {
		in.Current.Parked, in.Current.Cause = true, []string{CauseParked, CauseMissed, CauseRetest}[r.IntN(3)]
	},
	func(r *rand.Rand, in *Input) { in.Today = today.Add(age(r)) },
	func(r *rand.Rand, in *Input) { in.Begun = today.Add(-age(r)) },
	func(r *rand.Rand, in *Input) {
		x := in.Rail.Exercises[r.IntN(len(in.Rail.Exercises))]
		in.Current.Exercise, in.Current.Dose = x.ID, x.Ladder[r.IntN(len(x.Ladder))]
		for i := range in.Logs {
			l := logOn(in.Current, in.Logs[i].On.Sub(today))
			in.Logs[i] = l
		}
	},
	func(r *rand.Rand, in *Input) { in.Current.Dose = in.Current.Dose.WithAmount(1 + r.IntN(30)) },
	func(r *rand.Rand, in *Input) { in.Current.Dose.Sets = 1 + r.IntN(5) },
	func(r *rand.Rand, in *Input) { in.Current.Dose.Extra = 1 + r.IntN(2) },
	func(r *rand.Rand, in *Input) { in.Limits.Facts.Stops = append(in.Limits.Facts.Stops, anyStop(r)) },
	func(r *rand.Rand, in *Input) {
		all := permit.CautionIDs()
		in.Profile.Cautions = append(in.Profile.Cautions, all[r.IntN(len(all))])
	},
	func(r *rand.Rand, in *Input) {
		in.Profile.Approaches = map[string]string{"pain": "none", "effort": "fatigue", "cramp": "practise"}
	},
	func(r *rand.Rand, in *Input) {
		in.Profile.Races = []body.Race{{On: today.Add(r.IntN(30) - 12), Km: 21}}
	},
	func(r *rand.Rand, in *Input) {
		in.Profile.WeeklyMinutes = 120
		for i := range 1 + r.IntN(6) {
			in.Runs = append(in.Runs, load.Run{On: today.Add(-i * (1 + r.IntN(6))), Minutes: 20 * float64(1+r.IntN(6)), Seq: int64(r.IntN(50))})
		}
	},
	func(r *rand.Rand, in *Input) {
		for w := range 4 + r.IntN(2) {
			in.Runs = append(in.Runs, load.Run{On: today.Add(-7*w - r.IntN(20)), Word: []load.Word{load.None, load.AsUsual}[r.IntN(8)/7]})
		}
	},
	func(r *rand.Rand, in *Input) {
		key := []string{"adjust.days.min", "adjust.miss.hold", "dose.step", "adjust.back.work", "adjust.rpe.max"}[r.IntN(5)]
		in.House.Changed = map[string]float64{key: float64(1 + r.IntN(90))}
	},
	func(r *rand.Rand, in *Input) { in.Limits.Calm = []body.Side{body.Sides[r.IntN(2)]} },
	func(r *rand.Rand, in *Input) {
		from := in.Current
		from.ID, from.Side = "o", in.Current.Side.Other()
		to := from
		to.Dose = to.Dose.WithAmount(max(1, to.Dose.Amount()+r.IntN(5)-2))
		in.Other = &Row{From: from, To: to, Verdict: []Verdict{Up, Hold, Back, Park, Return, Pending}[r.IntN(6)], Steps: r.IntN(3),
			News: r.IntN(2) == 0, Clean: r.IntN(2) == 0, Fired: []Fired{{Verdict: Hold}}}
	},
}

func anyLog(r *rand.Rand, in *Input) *Log {
	if len(in.Logs) == 0 {
		in.Logs = []Log{logOn(in.Current, -1-r.IntN(3))}
	}
	return &in.Logs[r.IntN(len(in.Logs))]
}

func anyMorning(r *rand.Rand, in *Input) *build.Morning {
	if len(in.Mornings) == 0 {
		in.Mornings = []build.Morning{morningOn(-r.IntN(3), 1)}
	}
	return &in.Mornings[r.IntN(len(in.Mornings))]
}

func anyMove(r *rand.Rand, in *Input) Move {
	rules := RuleNames()
	m := Move{On: today.Add(-age(r)), Verdict: []Verdict{Hold, Up, Back, Park, Return}[r.IntN(5)], Steps: r.IntN(3),
		Side: []body.Side{"", body.Left, body.Right, body.Both}[r.IntN(4)], Rail: in.Current.Rail, Rule: "adjust." + rules[r.IntN(len(rules))]}
	m.Seen = numbered(m.On, r.IntN(9999))
	m.Alone = m.Verdict == Hold && r.IntN(3) == 0
	return m
}

func anyStop(r *rand.Rand) refer.Stop {
	sign := refer.Signs[r.IntN(len(refer.Signs))]
	on := today.Add(-r.IntN(30))
	s := refer.Stop{ID: fmt.Sprint(r.IntN(1e6)), Sign: sign.ID, Region: body.HeelSole, Side: body.Sides[r.IntN(2)], On: on, Recorded: on,
		Seq: 1}
	level := r.IntN(5)
	c := refer.Clearance{Kind: "clinician", Who: "GP", On: min(today, on.Add(r.IntN(20))), Opens: &refer.Opening{Level: &level}}
	if r.IntN(3) > 0 {
		if r.IntN(3) == 0 {
			c.Kind, c.Opens = "reviewed", nil
		}
		s.Clearances = []refer.Clearance{c}
	}
	return s
}

// nudged draws rows a few small changes away from a quiet one, and says all that is proposed and what may be chosen.
func nudged(r *rand.Rand) any {
	out := []any{}
	for range 12 {
		in := quiet()
		if r.IntN(3) == 0 {
			in = owner()
		}
		in.Rail, _ = catalog.Shipped.Find(in.Current.Rail)
		if r.IntN(4) == 0 {
			in.Rail = catalog.Shipped.Rails[r.IntN(len(catalog.Shipped.Rails))]
			x := in.Rail.Exercises[0]
			in.Current.Rail, in.Current.Exercise, in.Current.Dose = in.Rail.ID, x.ID, x.Ladder[0]
			in.Current.Side = in.Rail.Sides()[0]
			in.Logs = []Log{logOn(in.Current, -4), logOn(in.Current, -2)}
		}
		for range 1 + r.IntN(4) {
			nudges[r.IntN(len(nudges))](r, &in)
		}
		for i := range in.Logs {
			in.Logs[i].Seq += numbered(in.Logs[i].On, 100+i)
		}
		for i := range in.Mornings {
			in.Mornings[i].Seq += numbered(in.Mornings[i].On, 200+i)
		}
		in = whole(in)
		p := Propose(in)
		taken, err := Choose(in, []Verdict{Up, Hold, Back, Park, Return}[r.IntN(5)])
		out = append(out, p, fmt.Sprint(taken.To, err, p.InForce(), p.Records(), p.Asks()))
	}
	return out
}
