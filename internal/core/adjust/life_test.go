package adjust

import (
	"fmt"
	"maps"
	"math/rand/v2"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
)

// life is one runner's record on a day: both legs, some rails, at least 42 days of reports.
type life struct {
	profile  body.Profile
	tests    map[body.Side]map[string]float64
	counted  body.Date // the cadence, without the beat
	stops    []refer.Stop
	mornings []build.Morning
	runs     []load.Run
	rows     []catalog.Prescription
	logs     []Log
	moves    []Move
	spoke    int64
	lead     load.Lead
}

const watchedPlaces = 3

var placesDrawn = []body.Region{body.HeelSole, body.Achilles, body.Calf, body.Arch, body.Ball, body.BigToe, body.Shin, body.Knee,
	body.FrontAnkle, body.OuterAnkle, body.AboveKnee}

func drawLife(r *rand.Rand) life {
	var l life
	some := func(n int) bool { return r.IntN(n) == 0 }
	l.profile = owner().Profile
	l.profile.Touch = body.Touch{Left: !some(12), Right: !some(12), On: today.Add(-r.IntN(100))}
	l.profile.Approaches = map[string]string{}
	for _, a := range house.Approaches {
		if some(3) {
			l.profile.Approaches[a.ID] = a.Options[r.IntN(len(a.Options))].ID
		}
	}
	if some(10) {
		all := permit.CautionIDs()
		l.profile.Cautions = []string{all[r.IntN(len(all))]}
	}
	drawn := slices.Clone(placesDrawn)
	r.Shuffle(len(drawn), func(i, j int) { drawn[i], drawn[j] = drawn[j], drawn[i] })
	places := drawn[:watchedPlaces]
	for _, p := range places[:r.IntN(3)] {
		l.profile.Symptoms = append(l.profile.Symptoms, body.Symptom{Region: p, Side: body.Sides[r.IntN(2)],
			Baseline: r.IntN(4) + r.IntN(2)*r.IntN(9), Worst: r.IntN(8)})
	}
	if some(2) {
		l.profile.WeeklyMinutes = 150
		l.profile.Runs = []body.FixedRun{{Weekday: 1, Minutes: 50, Quality: "easy"}, {Weekday: 4, Minutes: 60, Quality: "quality"}}
	}
	if some(12) {
		l.profile.Races = []body.Race{{On: today.Add(r.IntN(30) - 10), Km: 21}}
	}
	l.drawTests(r)
	back := l.drawDays(r, places)
	rails := slices.Clone(catalog.Shipped.Rails)
	r.Shuffle(len(rails), func(i, j int) { rails[i], rails[j] = rails[j], rails[i] })
	if some(6) {
		rails[0], _ = catalog.Shipped.Find("cadence")
	}
	for _, rail := range rails[:2] {
		l.drawRail(r, rail)
		if side := rail.Sides()[0]; back && !some(4) {
			l.moves = append(l.moves, Move{On: today.Add(-r.IntN(7)), Verdict: Up, Side: side, Rail: rail.ID, Rule: "adjust.two-clean"})
		}
	}
	l.drawLead(r)
	l.drawStops(r)
	l.rows = Joint(catalog.Shipped, l.rows, l.profile.MassKg)
	l.number(r)
	return l
}

// drawLead draws who leads the week, or nobody, and which earlier moves were heavy.
func (l *life) drawLead(r *rand.Rand) {
	if r.IntN(5) > 0 {
		l.lead = load.Lead{Dial: load.Dials[r.IntN(3)], From: today.Monday(), Easy: r.IntN(4) == 0}
	}
	for i := range l.moves {
		l.moves[i].Heavy = r.IntN(2) == 0
	}
}

// drawStops draws warning signs, some of them cleared.
func (l *life) drawStops(r *rand.Rand) {
	some := func(n int) bool { return r.IntN(n) == 0 }
	for range r.IntN(6) / 5 {
		sign := refer.Signs[r.IntN(len(refer.Signs))]
		s := refer.Stop{ID: fmt.Sprint("s", r.IntN(1e6)), Sign: sign.ID, Region: body.RegionNames[r.IntN(len(body.RegionNames))].ID,
			Side: []body.Side{body.Left, body.Right, body.Both}[r.IntN(3)], On: today.Add(-r.IntN(40))}
		s.Recorded = s.On
		if on := s.On.Add(1 + r.IntN(25)); !some(3) && on <= today {
			level, bare, yes := r.IntN(5), r.IntN(6), some(2)
			free := body.Impacts[r.IntN(3)]
			c := refer.Clearance{Kind: "clinician", Who: "GP", On: on,
				Opens: &refer.Opening{Level: &level, Impact: &free, Bare: &bare, Edge: &yes, Range: &yes, Maximal: &yes, Run: "all"}}
			if some(4) {
				c = refer.Clearance{Kind: "reviewed", Who: "Coach", On: on}
			}
			s.Clearances = []refer.Clearance{c}
		}
		l.stops = append(l.stops, s)
	}
}

// drawDays draws mornings and runs; back says that they are on the way back to running.
func (l *life) drawDays(r *rand.Rand, places []body.Region) (back bool) {
	some := func(n int) bool { return r.IntN(n) == 0 }
	for d := -48; d <= 0; d++ {
		for _, p := range places {
			for _, leg := range body.Sides {
				pain := 0
				for _, s := range l.profile.Symptoms {
					if s.Region == p && s.Side == leg {
						pain = max(0, s.Baseline-r.IntN(2))
					}
				}
				if some(500) {
					pain = min(10, pain+1+r.IntN(6))
				}
				if !some(60) {
					l.mornings = append(l.mornings, build.Morning{On: today.Add(d), Region: p, Side: leg, Pain: pain, Stiffness: r.IntN(40)})
				}
			}
		}
		if !some(60) {
			l.mornings = append(l.mornings, build.Morning{On: today.Add(d), Region: body.WholePerson, Side: body.Both, Quiet: true})
		}
		if l.profile.WeeklyMinutes > 0 && !some(12) && (today.Add(d).Sub(today.Add(d).Monday()) == 1 ||
			today.Add(d).Sub(today.Add(d).Monday()) == 4) {
			l.runs = append(l.runs, load.Run{On: today.Add(d), Minutes: 40 + float64(r.IntN(40)), Km: 8 + float64(r.IntN(8))})
		}
	}
	back = some(3)
	if back { // five weeks stated to be without running, over for a week or more: they are on the way back
		over := 7 + r.IntN(20)
		l.runs = slices.DeleteFunc(l.runs, func(x load.Run) bool { return today.Sub(x.On) >= over })
		for w := range 5 {
			l.runs = append(l.runs, load.Run{On: today.Add(-over - 7*w), Word: load.None})
		}
	}
	return back
}

// drawTests draws what was tested.
func (l *life) drawTests(r *rand.Rand) {
	some := func(n int) bool { return r.IntN(n) == 0 }
	l.tests = map[body.Side]map[string]float64{body.Both: {}}
	for _, s := range body.Sides {
		l.tests[s] = map[string]float64{}
		values := owner().Limits.Values
		for _, m := range slices.Sorted(maps.Keys(values)) { // in one order: a seed is the same life every time
			if !some(15) {
				l.tests[s][m] = values[m]
			}
		}
		for _, m := range []string{"ankle.knee_to_wall", "toe.passive_height", "calf.rm"} { // what distances, heights and kilograms follow from
			if some(2) {
				l.tests[s][m] = map[string]float64{"ankle.knee_to_wall": 4, "toe.passive_height": 20, "calf.rm": 100}[m] * (1 + r.Float64())
			}
		}
	}
	l.counted = today.Add(-age(r))
	l.tests[body.Both]["gait.cadence"] = float64(164 + r.IntN(16))
}

// age draws a number of days, half the time one that a rule turns at, or a day beside it.
func age(r *rand.Rand) int {
	if r.IntN(2) == 0 {
		return r.IntN(40)
	}
	return max(0, []int{3, 7, 7, 14, 14, 21, 28}[r.IntN(7)]+r.IntN(3)-1)
}

func (l *life) drawRail(r *rand.Rand, rail catalog.Rail) {
	some := func(n int) bool { return r.IntN(n) == 0 }
	notches := rail.Every(catalog.Limits{Equipment: l.profile.Equipment, Spm: []int{170, 175}, MassKg: l.profile.MassKg,
		Values: l.tests[body.Left], Other: l.tests[body.Right]})
	joint := notches[r.IntN(len(notches))]
	if rail.ID == "cadence" && !some(4) { // the last dose of a step: the next beat waits for a count
		joint = notches[len(notches)/2-1]
	}
	from := today.Add(-age(r))
	for _, side := range rail.Sides() {
		n, since := joint, from
		if some(3) {
			n, since = notches[r.IntN(len(notches))], today.Add(-age(r))
		}
		x, _ := rail.Exercise(n.Exercise)
		cur := catalog.Prescription{ID: fmt.Sprint(rail.ID, side), Rail: rail.ID, Side: side, Exercise: n.Exercise, Name: n.Name, Dose: n.Dose,
			From: since, Cause: CauseUp}
		if some(12) {
			cur.Parked, cur.Cause = true, []string{CauseParked, CauseMissed, CauseRetest}[r.IntN(3)]
		}
		if !cur.Parked && some(8) { // it was parked, and came back
			cur.Cause = CauseReturn
			l.moves = append(l.moves, Move{On: since, Verdict: Return, Side: side, Rail: rail.ID, Rule: "adjust.return"})
			if some(2) {
				l.moves = append(l.moves, Move{On: since.Add(-1 - r.IntN(30)), Verdict: Park, Side: side, Rail: rail.ID,
					Rule: []string{"adjust.missed", "adjust.pain", "adjust.stop"}[r.IntN(3)]})
			}
		}
		l.rows = append(l.rows, cur)
		before := cur
		before.ID, before.From, before.Parked = cur.ID+"b", cur.From.Add(-20), false
		if i := slices.IndexFunc(notches, func(k catalog.Notch) bool { return k.Exercise == n.Exercise && k.Dose == n.Dose }); i > 0 {
			before.Exercise, before.Dose = notches[i-1].Exercise, notches[i-1].Dose
		}
		gap := 2
		if some(6) {
			gap = 3 + r.IntN(28)
		}
		l.drawSessions(r, x, cur, before, gap)
		l.drawMoves(r, rail, side)
	}
	slices.SortStableFunc(l.moves, func(a, b Move) int { return a.On.Sub(b.On) })
}

// drawMoves draws what was decided of a row.
func (l *life) drawMoves(r *rand.Rand, rail catalog.Rail, side body.Side) {
	for range r.IntN(3) {
		m := Move{On: today.Add(-age(r)), Verdict: []Verdict{Hold, Up, Back}[r.IntN(3)], Side: side, Rail: rail.ID, Rule: "adjust.two-clean"}
		switch {
		case r.IntN(10) == 0:
			m.Verdict, m.Rule = Return, "adjust.return"
		case m.Verdict == Back:
			m.Steps, m.Rule = 1+r.IntN(2), []string{"adjust.pain", "adjust.morning", "adjust.missed"}[r.IntN(3)]
		}
		l.moves = append(l.moves, m)
	}
}

// drawSessions draws what was trained of a row, and of the row before it.
func (l *life) drawSessions(r *rand.Rand, x catalog.Exercise, cur, before catalog.Prescription, gap int) {
	some := func(n int) bool { return r.IntN(n) == 0 }
	for d := -42; d <= 0; d += gap {
		p := cur
		if today.Add(d) < cur.From {
			p = before
		}
		log := logOn(p, d)
		log.Pain, log.RPE, log.Times = r.IntN(2), 6+r.IntN(2), p.Dose.Times()
		if x.Class == catalog.Releasing {
			log.Pain = r.IntN(5)
		}
		switch r.IntN(60) {
		case 0:
			log.Pain = 3 + r.IntN(3)
		case 1:
			log.RPE = -1
		case 5:
			log.Pain = -1 // not told
		case 2:
			log.Done[0] /= 2
		case 4:
			log.RPE = 9
		case 3:
			log.Faults = []string{"height lost"}
		}
		l.logs = append(l.logs, log)
		if some(12) { // a second session of the day
			l.logs = append(l.logs, log)
		}
	}
}

// number gives every report its number; some arrive late. A decision saw what had arrived on its day.
func (l *life) number(r *rand.Rand) {
	key := numbered
	for i := range l.mornings {
		l.mornings[i].Seq = key(l.mornings[i].On, i%3000)
		if r.IntN(60) == 0 {
			l.mornings[i].Seq = key(min(today, l.mornings[i].On.Add(r.IntN(10))), 9000+i%999)
		}
	}
	for i := range l.logs {
		l.logs[i].Seq = key(l.logs[i].On, 4000+i%3000)
		if r.IntN(25) == 0 {
			l.logs[i].Seq = key(min(today, l.logs[i].On.Add(r.IntN(10))), 9000+i%999)
		}
		if r.IntN(40) == 0 { // a correction that nobody has seen: milder than what it corrects
			was := l.logs[i]
			was.Pain = min(10, was.Pain+r.IntN(4))
			l.logs[i].Was = []Log{was}
		}
	}
	for i := range l.runs {
		l.runs[i].Seq = key(l.runs[i].On, 3000+i%900)
	}
	for i := range l.moves { // a decision saw the newest report there was that day
		m, last := &l.moves[i], key(l.moves[i].On, 8000)
		m.Seen = -1
		for _, x := range l.mornings {
			if x.Seq <= last {
				m.Seen = max(m.Seen, x.Seq)
			}
		}
		for _, x := range l.logs {
			if x.Seq <= last {
				m.Seen = max(m.Seen, x.Seq)
			}
		}
		for _, x := range l.runs {
			if x.Seq <= last {
				m.Seen = max(m.Seen, x.Seq)
			}
		}
	}
	l.spoke = key(today.Add(-r.IntN(30)), 0)
}

// numbered is the number of a report of a day.
func numbered(on body.Date, n int) int64 { return int64(on.Sub("2020-01-01"))*10_000 + int64(n) }

// by is the life as it was known on the evening of a day.
func (l life) by(day body.Date) life {
	last := numbered(day, 9999)
	l.logs = slices.DeleteFunc(slices.Clone(l.logs), func(x Log) bool { return x.Seq > last })
	l.mornings = slices.DeleteFunc(slices.Clone(l.mornings), func(m build.Morning) bool { return m.Seq > last })
	l.runs = slices.DeleteFunc(slices.Clone(l.runs), func(x load.Run) bool { return x.Seq > last })
	l.stops = slices.DeleteFunc(slices.Clone(l.stops), func(s refer.Stop) bool { return s.On > day })
	l.moves = slices.DeleteFunc(slices.Clone(l.moves), func(m Move) bool { return m.Seen > last })
	l.rows = slices.DeleteFunc(slices.Clone(l.rows), func(p catalog.Prescription) bool { return p.From > day })
	return l
}

// held is the life with the clean holds that the core recorded by itself on some evenings.
func (l life) held(evenings []body.Date, usual *build.Usuals, c *tally) life {
	for _, day := range evenings {
		var holds []Move
		for _, p := range ProposeAll(l.by(day).inputs(usual, day)) {
			if p.Records() {
				holds = append(holds, Move{On: day, Verdict: Hold, Side: p.Side, Rail: p.Rail, Seen: p.Seen, Rule: p.Fired[0].Reason.Rule, Alone: true})
			}
		}
		l.moves = append(slices.Clone(l.moves), holds...)
		slices.SortStableFunc(l.moves, func(a, b Move) int { return a.On.Sub(b.On) })
		c.holds += len(holds)
	}
	return l
}

// inputs are what each row of the life is judged by. Both of a pair are judged by the usual of the quieter.
func (l life) inputs(usual *build.Usuals, today body.Date) []Input {
	sessions := []permit.Mark{}
	for _, x := range l.logs {
		rail, _ := catalog.Shipped.Find(x.Prescription.Rail)
		e, _ := rail.Exercise(x.Prescription.Exercise)
		if pain := x.standing(-1).Pain; pain > 5 && e.Class != catalog.Releasing {
			sessions = append(sessions, permit.Mark{Region: e.Main[0], Side: x.Prescription.Side, Pain: pain, On: x.On, Seq: x.Seq})
		}
	}
	facts := build.Input{Profile: l.profile, Stops: l.stops, Mornings: l.mornings, Sessions: sessions, Spoke: l.spoke, Today: today,
		Runs: l.runs}.Facts()
	for s, ms := range l.tests {
		maps.Copy(facts.Tests[s], ms)
	}
	facts.Taken["gait.cadence|both"] = l.counted
	hard := []build.Hard{}
	for _, p := range l.rows {
		rail, _ := catalog.Shipped.Find(p.Rail)
		if x, ok := rail.Exercise(p.Exercise); ok && !p.Parked {
			hard = append(hard, build.Hard{Demand: x.Demand, Side: p.Side})
		}
	}
	watched, bounds := build.WatchedNow(l.profile, nil, hard, today), l.bounds(facts, today)
	out := []Input{}
	for _, p := range l.rows {
		rail, _ := catalog.Shipped.Find(p.Rail)
		lim := bounds[p.Side]
		in := Input{Current: p, Rail: rail, Limits: lim, Mornings: l.mornings, Watched: watched, Runs: l.runs, Profile: l.profile, Today: today,
			Begun: p.From.Add(-20), Lead: l.lead, usuals: usual}
		in.Logs = make([]Log, 0, len(l.logs))
		for i := range l.logs {
			if l.logs[i].Prescription.Rail == p.Rail {
				in.Logs = append(in.Logs, l.logs[i])
			}
		}
		for _, m := range l.moves {
			if m.Rail == p.Rail {
				in.Moves = append(in.Moves, m)
			} else {
				in.Others = append(in.Others, m)
			}
		}
		out = append(out, in)
	}
	return out
}

// bounds are the limits of each side.
func (l life) bounds(facts permit.Facts, today body.Date) map[body.Side]catalog.Limits {
	usually := build.UsualMornings(l.profile, l.mornings, today)
	calm := []body.Side{}
	for _, leg := range body.Sides {
		if is, _ := build.LegInCalm(l.profile, l.mornings, today, house.Rules{}, leg); is {
			calm = append(calm, leg)
		}
	}
	bounds := map[body.Side]catalog.Limits{}
	for _, p := range l.rows {
		if _, ok := bounds[p.Side]; ok {
			continue
		}
		lim := catalog.LimitsOf(l.profile, facts, p.Side, house.Rules{})
		lim.Spm, lim.NoRM = []int{170, 175}, false
		side := p.Side
		if side == body.Both {
			side = body.Left
		}
		lim.Values, lim.Other = l.tests[side], l.tests[side.Other()]
		lim.Calm = calm
		for _, u := range usually {
			if u.Side.Touches(p.Side) {
				lim.Mornings[u.Region] = max(lim.Mornings[u.Region], u.Level)
			}
		}
		bounds[p.Side] = lim
	}
	return bounds
}
