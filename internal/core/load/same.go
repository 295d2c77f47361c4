package load

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"notchback/internal/core/body"
)

// Twin says how a run stands to those that are known already.
type Twin string

// The answers. Same is left out of an import unless the coach takes it; so is Overlap, which a coach has to look at.
const (
	New     Twin = "new"
	Same    Twin = "same"
	Overlap Twin = "overlap"
)

// How near two reports of one run lie; common practice, no source: begun within so many minutes and as long within a tenth (at
// least two minutes); where one has no time of the day, as long within a tenth is the same and within a quarter may be.
const (
	startsNear = 2 * time.Minute
	longNear   = 0.10
	longMaybe  = 0.25
	leastNear  = 2. // min
)

// Alike says whether a run is known already, by its day, its time and its length, and in words which of those it is: the same one
// in another file, one entered by hand, or one whose time it overlaps. known holds the runs by their day.
func Alike(r Run, known map[body.Date][]Run) (twin Twin, why string) {
	twin = New
	for day := -1; day <= 1; day++ { // a run over midnight may be known on the day after or before
		for _, k := range known[r.On.Add(day)] {
			if k.Word != "" {
				continue
			}
			apart := math.Abs(k.Minutes - r.Minutes)
			near := apart <= max(leastNear, longNear*r.Minutes)
			words := fmt.Sprintf("a run of %.0f min on %s", k.Minutes, k.On.Short())
			if k.File != "" {
				words += ", from " + k.File
			}
			from, to, timed := k.span()
			start, end, other := r.span()
			switch {
			case !timed || !other:
				if day == 0 && near {
					return Same, words + ", entered without its time"
				}
				if day == 0 && apart <= longMaybe*r.Minutes {
					twin, why = Overlap, "may be "+words+", entered without its time"
				}
			case near && start.Sub(from).Abs() <= startsNear:
				return Same, words
			case start.Before(to) && from.Before(end):
				twin, why = Overlap, "overlaps with "+words
			}
		}
	}
	return twin, why
}

// span is when a run began and ended; not told where its time of the day is unknown.
func (r Run) span() (from, to time.Time, told bool) {
	from, err := time.Parse(time.RFC3339, r.Start)
	return from, from.Add(time.Duration(max(r.Elapsed, r.Minutes) * float64(time.Minute))), err == nil
}

// KindOf finds what a run was for in what a table says of it; empty where it says none of it.
func KindOf(says string) Kind {
	says = strings.ToLower(says)
	for _, k := range []struct {
		kind  Kind
		words []string
	}{{RaceRun, []string{"race", "wettkampf"}}, {HillRun, []string{"hill"}}, {LongRun, []string{"long"}},
		{QualityRun, []string{"quality", "interval", "tempo", "fartlek", "threshold", "speed", "track"}},
		{BareRun, []string{"barefoot", "bare"}}, {EasyRun, []string{"easy", "recovery", "jog"}}} {
		if slices.ContainsFunc(k.words, func(w string) bool { return strings.Contains(says, w) }) {
			return k.kind
		}
	}
	return ""
}

// SurfaceOf finds the surface in what a table says; empty where it says none.
func SurfaceOf(says string) string {
	says = strings.ToLower(says)
	i := slices.IndexFunc(Surfaces, func(s string) bool { return strings.Contains(says, s) })
	if i < 0 {
		return ""
	}
	return Surfaces[i]
}

// ShoeKm is how far a shoe was run in.
type ShoeKm struct {
	Name string  `json:"name"`
	Km   float64 `json:"km" doc:"of the runs shown"`
}

// InShoes sums the distance of runs by the shoe they name, in the order of their first run.
func InShoes(runs []Run) []ShoeKm {
	out := []ShoeKm{}
	for _, r := range runs {
		if r.Shoe == "" || r.Km == 0 {
			continue
		}
		i := slices.IndexFunc(out, func(s ShoeKm) bool { return s.Name == r.Shoe })
		if i < 0 {
			i = len(out)
			out = append(out, ShoeKm{Name: r.Shoe})
		}
		out[i].Km += r.Km
	}
	return out
}
