package load

import (
	"fmt"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/stats"
)

// Foster's session load, and the monotony and strain of a week of it.
const foster = "Foster 1998, Med Sci Sports Exerc 30:1164"

// Gauge is one way to look at running, with its figure, what it comes to and why.
type Gauge struct {
	ID      string      `json:"id" enum:"week,longest,session,monotony,strain,ratio,weighted"`
	Name    string      `json:"name"`
	Figure  string      `json:"figure" doc:"with its unit; empty where it cannot be told"`
	State   State       `json:"state,omitempty" enum:",usual,high,unknown" doc:"empty: it judges nothing"`
	Decides bool        `json:"decides" doc:"the runner's approach goes by it"`
	Reason  body.Reason `json:"reason"`
}

// Day is the session load of one day: effort × minutes summed over its runs, arbitrary units. A run without an effort counts its
// minutes alone, and is counted in Unrated.
type Day struct {
	Load    float64
	Unrated int
}

// Session is the load of each of n days up to today, the oldest first.
func Session(runs []Run, today body.Date, n int) []Day {
	out := make([]Day, n)
	for _, r := range runs {
		i := n - 1 - today.Sub(r.On)
		if i < 0 || i >= n || r.Word != "" {
			continue
		}
		if r.RPE < 1 {
			out[i].Load += r.Minutes
			out[i].Unrated++
			continue
		}
		out[i].Load += float64(r.RPE) * r.Minutes
	}
	return out
}

// Monotony is the mean of a week's daily loads over their sample standard deviation. It is not told where every day is the same.
func Monotony(days []Day) (m float64, told bool) {
	x := make([]float64, len(days))
	for i, d := range days {
		x[i] = d.Load
	}
	sd := stats.SD(x)
	if !(sd > 0) {
		return 0, false
	}
	return stats.Mean(x) / sd, true
}

// Gauges lists every way to look at the running up to today; the runner's approach says which of them decides.
func Gauges(runs []Run, p body.Profile, today body.Date, h house.Rules) []Gauge {
	choice := h.Choice(p.Approaches, "volume")
	t := tell(runs, today)
	out := []Gauge{}
	week := weekGauge(runs, p, today, h)
	spike := Gauge{ID: "longest", Name: "Longest run", State: Usual}
	far := 0.0
	for _, r := range runs {
		if r.On <= today && today.Sub(r.On) < acute {
			far = max(far, r.Km)
		}
	}
	if far > 0 {
		spike.Figure = body.In("km", "%.1f", far)
	}
	spike.Reason = h.Because("load.longest", "no run is well over the longest of the 30 days before it", "load.longest.ratio",
		"load.longest.km").See("longest of these seven days", "%s", spike.Figure)
	if r, high := longest(runs, p, today, t.first, h); high {
		spike.State, spike.Reason = High, r
	}
	out = append(out, week, spike)
	out = append(out, sessionGauges(runs, today, h)...)
	ratios, told := []Gauge{{ID: "ratio", Name: "Week to four weeks"}, {ID: "weighted", Name: "The same, weighted by age"}}, false
	for i := range ratios {
		g := &ratios[i]
		state, why, enough := ratio(g.ID, runs, today, t.week, h)
		if g.Reason = why; !enough {
			g.Reason = h.Because("load.ratio", "not enough history: it takes four weeks of runs", "load.ratio.high")
			continue
		}
		short, long, _ := twoMeans(g.ID, runs, today, t.week)
		g.State, g.Figure = state, fmt.Sprintf("%.2f", short/long)
		if choice == g.ID {
			g.Decides, told = true, true
		}
	}
	out = append(out, ratios...)
	out[0].Decides, out[1].Decides = !told, !told
	return out
}

// weekGauge holds the last seven days against the two weeks before.
func weekGauge(runs []Run, p body.Profile, today body.Date, h house.Rules) Gauge {
	spikeOnly := p // whatever the practice goes by
	spikeOnly.Approaches = map[string]string{"volume": "spike"}
	far := make([]Run, len(runs)) // without their distances only the weeks are judged
	for i, r := range runs {
		r.Km = 0
		far[i] = r
	}
	state, why := Volume(far, spikeOnly, today, h)
	g := Gauge{ID: "week", Name: "Last seven days", State: state, Reason: why}
	if t := tell(runs, today); t.n > 0 || t.word != "" {
		g.Figure = fmt.Sprintf("%.0f min", t.week)
	}
	return g
}

// sessionGauges are load, monotony and strain of the last seven days; they judge nothing.
func sessionGauges(runs []Run, today body.Date, h house.Rules) []Gauge {
	days := Session(runs, today, acute)
	sum, unrated := 0.0, 0
	for _, d := range days {
		sum += d.Load
		unrated += d.Unrated
	}
	because := func(says string) body.Reason {
		r := h.Because("load.session", says)
		r.Provenance, r.Source = body.Memory, foster
		for i, d := range days {
			if d.Load > 0 {
				r = r.SeeOn(today.Add(i-acute+1), "load", "%.0f", d.Load)
			}
		}
		return r
	}
	load := Gauge{ID: "session", Name: "Session load", Figure: fmt.Sprintf("%.0f", sum),
		Reason: because("effort × minutes, summed over seven days")}
	if unrated > 0 {
		load.Reason.Says += fmt.Sprintf("; %d without an effort counted as minutes alone", unrated)
	}
	mono := Gauge{ID: "monotony", Name: "Monotony", Reason: because("not told: every day is the same")}
	strain := Gauge{ID: "strain", Name: "Strain", Reason: because("not told: monotony is not")}
	if m, told := Monotony(days); told {
		mono.Figure, mono.Reason.Says = fmt.Sprintf("%.2f", m), "mean daily load over its standard deviation, seven days"
		strain.Figure, strain.Reason.Says = fmt.Sprintf("%.0f", sum*m), "week's load × monotony"
		strain.Reason.Formula = fmt.Sprintf("%.0f × %.2f = %.0f", sum, m, sum*m)
	}
	return []Gauge{load, mono, strain}
}
