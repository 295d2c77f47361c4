package adjust

import (
	"slices"
	"testing"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
)

// BenchmarkProposals proposes for a runner with a row on each side of a rail of every kind, each class in each part of a
// session; BenchmarkProposalsEveryRail of every rail there is. 90 days of sessions every second day, of mornings in three
// places of both legs, and of runs; a decision a week.
func BenchmarkProposals(b *testing.B) {
	kinds := map[string]bool{}
	benchProposals(b, func(r catalog.Rail) bool {
		kind := string(r.Part) + string(r.Class)
		seen := kinds[kind]
		kinds[kind] = true
		return !seen
	})
}

func BenchmarkProposalsEveryRail(b *testing.B) {
	benchProposals(b, func(catalog.Rail) bool { return true })
}

func benchProposals(b *testing.B, of func(catalog.Rail) bool) {
	base := owner()
	base.Mornings = nil
	for d := -89; d <= 0; d++ {
		for _, region := range []body.Region{body.HeelSole, body.Achilles, body.Shin} {
			for _, side := range body.Sides {
				base.Mornings = append(base.Mornings, build.Morning{On: today.Add(d), Region: region, Side: side, Pain: (d*d + len(region)) % 3,
					Seq: int64(d+90) * 10})
			}
		}
		if d%3 == 0 {
			base.Runs = append(base.Runs, load.Run{On: today.Add(d), Minutes: 40, Km: 7, Seq: int64(d+90)*10 + 2})
		}
	}
	var ins []Input
	rows := 0
	for _, rail := range catalog.Shipped.Rails {
		if !of(rail) {
			continue
		}
		var logs []Log
		var mine []Input
		for _, side := range rail.Sides() {
			x := rail.Exercises[len(rail.Exercises)/2]
			cur := catalog.Prescription{ID: rail.ID + string(side), Rail: rail.ID, Side: side, Exercise: x.ID, Name: x.Name, Dose: x.Ladder[0],
				From: today.Add(-89)}
			for d := -88; d <= 0; d += 2 {
				l := logOn(cur, d)
				l.Seq, l.Times = int64(d+90)*10+5, cur.Dose.Times()
				logs = append(logs, l)
			}
			in := base
			in.Current = cur
			mine = append(mine, in)
			rows++
		}
		slices.SortStableFunc(logs, func(a, b Log) int { return a.On.Sub(b.On) })
		for _, in := range mine {
			in.Logs = logs
			in = whole(in)
			ins = append(ins, in)
		}
	}
	decideWeekly(ins)
	b.ReportAllocs()
	for b.Loop() {
		ProposeAll(ins)
	}
	b.ReportMetric(float64(rows), "rows")
}

// decideWeekly has the coach decide each week, a hold.
func decideWeekly(ins []Input) {
	for i := range ins { // the coach decides each week, a hold
		for k := range ins {
			for d := -89 + 7; d < 0; d += 7 {
				m := Move{On: today.Add(d), Verdict: Hold, Side: ins[k].Current.Side, Rail: ins[k].Current.Rail, Seen: int64(d+90)*10 + 9,
					Rule: "adjust.pain"}
				if m.Rail == ins[i].Current.Rail {
					ins[i].Moves = append(ins[i].Moves, m)
				} else if d >= -28 {
					ins[i].Others = append(ins[i].Others, m)
				}
			}
		}
	}
}
