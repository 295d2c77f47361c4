package adjust

import (
	"math/rand/v2"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
	"slices"
)

// worsen makes one input of a life worse, or says that there was nothing to.
func (l *life) worsen(r *rand.Rand) string {
	undecided := func(side body.Side, rail string, seq int64) bool {
		for _, m := range l.moves {
			if m.Rail == rail && m.Side.Touches(side) && seq <= m.Seen {
				return false // it was decided on: another report would have been another decision
			}
		}
		return true
	}
	var open []int
	for i, x := range l.logs {
		if undecided(x.Prescription.Side, x.Prescription.Rail, x.Seq) {
			open = append(open, i)
		}
	}
	seen := int64(-1)
	for _, m := range l.moves {
		seen = max(seen, m.Seen)
	}
	if what, done := l.worsenLog(r, open); done {
		return what
	}
	switch r.IntN(6) {
	case 0, 1, 2:
		var late []int
		for i, m := range l.mornings {
			if m.Seq > seen && !m.Quiet {
				late = append(late, i)
			}
		}
		if len(late) == 0 {
			return ""
		}
		l.mornings = slices.Clone(l.mornings)
		for range 1 + r.IntN(3) {
			i := late[len(late)-1-r.IntN(min(len(late), 40))]
			l.mornings[i].Pain = min(10, l.mornings[i].Pain+1+r.IntN(7))
		}
		return "morning"
	case 3:
		l.mornings = slices.Clone(l.mornings)
		l.mornings = slices.DeleteFunc(l.mornings, func(m build.Morning) bool { return m.Quiet && r.IntN(4) == 0 })
		return "unanswered"
	case 4:
		// A second, long run on a day that has one: a day without would be answered by it.
		ran := slices.DeleteFunc(slices.Clone(l.runs), func(x load.Run) bool { return x.Word != "" || today.Sub(x.On) > 5 })
		if l.profile.WeeklyMinutes == 0 || len(ran) == 0 {
			return ""
		}
		l.runs = append(slices.Clone(l.runs), load.Run{On: ran[r.IntN(len(ran))].On, Minutes: 150, Km: 30, Seq: numbered(today, 9998)})
		return "running"
	}
	sign := refer.Signs[r.IntN(len(refer.Signs))]
	l.stops = append(slices.Clone(l.stops), refer.Stop{ID: "new", Sign: sign.ID, Region: body.RegionNames[r.IntN(len(body.RegionNames))].ID,
		Side: []body.Side{body.Left, body.Right, body.Both}[r.IntN(3)], On: today, Recorded: today, Which: []string{}})
	return "stop"
}

// worsenLog makes one of the newest sessions worse; done is false where none was touched.
func (l *life) worsenLog(r *rand.Rand, open []int) (what string, done bool) {
	if len(open) == 0 {
		return "", false
	}
	i := open[len(open)-1-r.IntN(min(len(open), 12))]
	x := l.logs[i]
	x.Done, x.Faults = slices.Clone(x.Done), slices.Clone(x.Faults)
	defer func() { l.logs[i] = x }()
	switch k := r.IntN(8); k {
	case 0, 1:
		if x.Pain < 0 {
			x.Pain = 8 + r.IntN(3) // that it was little is no worse than nothing told
			return "told late", true
		}
		x.Pain = min(10, x.Pain+1+r.IntN(8))
		return "pain", true
	case 2:
		if x.RPE < 0 {
			return "", true
		}
		x.RPE = min(10, x.RPE+1+r.IntN(3))
		return "effort", true
	case 3:
		x.Done[r.IntN(len(x.Done))] = 0
		return "short", true
	case 4:
		x.Faults = append(x.Faults, "toes grip")
		return "fault", true
	case 5:
		k := r.IntN(len(x.Done))
		if x.Done[k] < 2 {
			return "", true
		}
		n := 1 + r.IntN(x.Done[k])
		x.Done[k] = n
		if x.CrampAt == 0 || n < x.CrampAt {
			x.CrampAt = n
		}
		return "cramp", true
	case 6:
		if x.Pain != 0 {
			return "", true // to leave open what was none is no better; how much it was is worse to tell
		}
		x.Pain = -1
		return "not told", true
	}
	return "", false
}
