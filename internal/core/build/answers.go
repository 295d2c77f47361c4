package build

import (
	"cmp"
	"maps"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/screen"
)

// sore reports a symptom at one of the places.
func (v view) sore(places ...body.Region) bool { return v.soreness(places...) > 0 }

// soreness is the highest number given for one of the places, 0–10.
func (v view) soreness(places ...body.Region) int {
	worst := 0
	for _, s := range v.in.Profile.Symptoms {
		if slices.Contains(places, s.Region) {
			worst = max(worst, s.Baseline, s.Worst)
		}
	}
	return worst
}

// soreOn reports a symptom at one of the places of a side.
func (v view) soreOn(side body.Side, places ...body.Region) bool {
	return slices.ContainsFunc(v.in.Profile.Symptoms, func(s body.Symptom) bool {
		return slices.Contains(places, s.Region) && s.Side.Touches(side)
	})
}

func (v view) approach(id string) string { return v.in.House.Choice(v.in.Profile.Approaches, id) }

// remedy is what a sore place asks for under the chosen approach, first choice first.
type remedy struct {
	rails    []string
	says     string
	severity int // 0–10
}

// remedies lists what the sore places ask for, the sorest first.
func (v view) remedies() []remedy {
	var out []remedy
	for _, place := range body.RegionNames {
		if !v.sore(place.ID) {
			continue
		}
		rails, question := v.cat.Remedies(place.ID, v.phase == Calm, v.approach)
		says := "sore " + place.Name
		if question != "" {
			says += ": " + house.OptionName(question, v.approach(question))
		}
		r := remedy{says: says, severity: v.soreness(place.ID)}
		for _, x := range rails {
			r.rails = append(r.rails, x.ID)
		}
		if len(r.rails) > 0 {
			out = append(out, r)
		}
	}
	slices.SortStableFunc(out, func(a, b remedy) int { return b.severity - a.severity })
	return out
}

// found reports whether something measured asks for a rail that is for findings. A rail that names none answers its
// limiter whatever was found.
func (v view) found(r catalog.Rail) bool {
	return len(r.For) == 0 || slices.ContainsFunc(v.findings, func(f screen.Finding) bool {
		return (f.Verdict == screen.Short || f.Verdict == screen.Borderline) &&
			(slices.Contains(r.For, f.ID) || slices.Contains(r.For, f.Measure))
	})
}

// asked is how plainly something found asks for a rail itself, 0–1: one of the findings it is for, or one of its own
// tests where it is among the first three answers to the limiter.
func (v view) asked(r catalog.Rail, limiter string) float64 {
	worst := 0.0
	for _, f := range v.findings {
		if f.Verdict == screen.Short && (slices.Contains(r.For, f.Measure) ||
			r.Answers[limiter] <= 3 && slices.Contains(r.Measures(), f.Measure)) {
			worst = max(worst, f.Severity)
		}
	}
	return worst
}

// ranked lists the limiters in the order they are answered: by rank, or hips first under that approach.
func (v view) ranked() []screen.Limiter {
	out := slices.DeleteFunc(slices.Clone(v.limiters), func(l screen.Limiter) bool {
		return l.Score <= 0 || l.ID == "side_difference" ||
			l.ID == "symptoms"
	})
	if v.approach("start") == "hip" {
		slices.SortStableFunc(out, func(a, b screen.Limiter) int { return hipFirst(a.ID) - hipFirst(b.ID) })
	}
	return out
}

func hipFirst(limiter string) int {
	if limiter == "hip_posture" {
		return 0
	}
	return 1
}

// answers lists the rails for a limiter that belong to the chosen approaches, first choice first.
func (v view) answers(limiter string) []catalog.Rail {
	rails := slices.DeleteFunc(v.cat.Answering(limiter), func(r catalog.Rail) bool {
		return !v.found(r) || r.Protocol != "" || v.otherApproach(r) != ""
	})
	// What something found asks for comes first, the plainest first: by the findings a rail is for, or by its own tests.
	slices.SortStableFunc(rails, func(a, b catalog.Rail) int { return cmp.Compare(v.asked(b, limiter), v.asked(a, limiter)) })
	rails = v.turned(limiter, rails)
	if !slices.ContainsFunc(rails, catalog.Rail.ByBeat) {
		return rails
	}
	// One cue at a time inside runs: what was begun is finished before the next; a drill done leads to the beat.
	first := func(is func(catalog.Rail) bool) {
		slices.SortStableFunc(rails, func(a, b catalog.Rail) int { return boolInt(is(b)) - boolInt(is(a)) })
	}
	for _, c := range v.in.Current {
		r, ok := v.cat.Find(c.Rail)
		switch {
		case !ok || r.Part != "run":
		case !v.finished(r, c):
			first(func(o catalog.Rail) bool { return o.ID == c.Rail })
		case !r.ByBeat():
			first(catalog.Rail.ByBeat)
		}
	}
	return rails
}

// turned puts the answers to a limiter where the chosen approaches want them: first, in another place, or out.
func (v view) turned(limiter string, rails []catalog.Rail) []catalog.Rail {
	place := func(r catalog.Rail) (at int, turned bool) {
		for _, t := range r.Turns {
			if t.Limiter == limiter && v.turns(t) {
				return t.At, true
			}
		}
		return 0, false
	}
	first, rest := make([]catalog.Rail, 0, len(rails)+4), make([]catalog.Rail, 0, len(rails))
	for _, r := range rails {
		switch at, turned := place(r); {
		case turned && at == 1:
			first = append(first, r)
		case !turned:
			rest = append(rest, r)
		}
	}
	rails = append(first, rest...)
	for _, r := range v.cat.Rails {
		if at, turned := place(r); turned && at > 1 && len(rails) >= at && !r.Retired {
			rails = slices.Insert(rails, at-1, r)
		}
	}
	return rails
}

// turns reports whether a turn holds for the runner.
func (v view) turns(t catalog.Turn) bool {
	for q, options := range t.Only {
		if !slices.Contains(options, v.approach(q)) {
			return false
		}
	}
	switch t.When {
	case "sole.tight":
		return v.tightSole()
	case "cadence.later":
		return !slices.ContainsFunc(screen.Chain(v.findings, v.in.Profile, v.in.House),
			func(l screen.Link) bool { return l.First && l.ID == "cadence" })
	}
	return len(t.Sore) == 0 || v.sore(t.Sore...)
}

// finished reports a rail whose last notch is in force.
func (v view) finished(r catalog.Rail, c catalog.Prescription) bool {
	notches := r.Notches(v.limits[c.Side])
	at, _ := catalog.At(notches, c.Exercise, c.Dose)
	return at == len(notches)-1
}

func boolInt(b bool) int {
	if b {
		return 1
	}
	return 0
}

// tightSole reports a big toe that is free unloaded and short with the ankle bent: the sole fascia is
// tight, so it is released rather than the joint stretched.
func (v view) tightSole() bool {
	verdict := func(id string) screen.Verdict {
		for _, f := range v.findings {
			if f.ID == id && f.Verdict == screen.Short {
				return screen.Short
			}
		}
		for _, f := range v.findings {
			if f.ID == id {
				return f.Verdict
			}
		}
		return screen.Noted
	}
	return verdict(body.ToeLoadedExtension) == screen.Short && verdict(body.ToePassiveExtension) == screen.Clear
}

// otherApproach names the approach a rail belongs to when another was chosen; empty when it may be used.
func (v view) otherApproach(r catalog.Rail) string {
	for _, q := range slices.Sorted(maps.Keys(r.Only)) {
		if !slices.Contains(r.Only[q], v.approach(q)) {
			return q
		}
	}
	return ""
}
