package runfile

import (
	"math"
	"time"
)

// point is one sample of a watch. NaN is unknown.
type point struct {
	at                 time.Time
	lat, lon, alt, cad float64
	meters             float64 // since the start, by the watch
	breaks             bool    // the watch was stopped before it
}

func nowhere(at time.Time) point {
	return point{at: at, lat: math.NaN(), lon: math.NaN(), alt: math.NaN(), cad: math.NaN(), meters: math.NaN()}
}

// track adds samples up: distance, time and climb. It keeps the last place only.
type track struct {
	first, last time.Time
	place       point // the last with a place
	meters      float64
	counted     float64 // by the watch itself
	moving      float64 // s
	low, climb  float64 // m; the height from which the next rise is counted
	cadence     float64 // sum of samples × s
	cadenceS    float64
	jumps       float64 // m left out
	back        int     // samples before the one that came before them
	known       bool    // a place was seen
}

// Gaps: with more than so many seconds between two samples the watch stood still, unless the runner came on meanwhile at the pace
// of somebody on foot: then the signal was lost. A rise is counted once it is so many metres; common practice, no source.
const (
	gapS   = 10.
	onFoot = 0.8 // m/s
	riseM  = 2.
)

func (t *track) add(p point) {
	if t.first.IsZero() {
		t.first, t.last, t.low = p.at, p.at, math.NaN()
	}
	if p.at.Before(t.last) {
		t.back++
		return
	}
	dt := p.at.Sub(t.last).Seconds()
	t.last = p.at
	came := math.NaN() // m since the last place
	if !math.IsNaN(p.lat) && !math.IsNaN(p.lon) && math.Abs(p.lat) <= 90 && math.Abs(p.lon) <= 180 {
		if t.known && !p.breaks {
			came = haversine(t.place, p)
			since := p.at.Sub(t.place.at).Seconds()
			switch speed := came / max(since, 1); {
			case speed > fastest:
				t.jumps += came
				came = math.NaN()
			case since > gapS && speed < onFoot: // stood
			default:
				t.meters += came
			}
		}
		t.place, t.known = p, true
	}
	if !math.IsNaN(p.meters) {
		t.counted = max(t.counted, p.meters)
	}
	if !p.breaks && (dt <= gapS || came/dt >= onFoot) {
		t.moving += dt
	}
	if !math.IsNaN(p.alt) {
		switch {
		case math.IsNaN(t.low) || p.alt < t.low:
			t.low = p.alt
		case p.alt-t.low >= riseM:
			t.climb += p.alt - t.low
			t.low = p.alt
		}
	}
	if p.cad > 0 {
		s := min(max(dt, 1), gapS)
		t.cadence += p.cad * s
		t.cadenceS += s
	}
}

// haversine is the way between two places over a sphere of the earth's mean radius, m.
func haversine(a, b point) float64 {
	const r, rad = 6371008.8, math.Pi / 180
	dLat, dLon := (b.lat-a.lat)*rad, (b.lon-a.lon)*rad
	h := math.Pow(math.Sin(dLat/2), 2) + math.Cos(a.lat*rad)*math.Cos(b.lat*rad)*math.Pow(math.Sin(dLon/2), 2)
	return 2 * r * math.Asin(min(1, math.Sqrt(h)))
}

// tell fills a run with what the track knows and the file did not say.
func (t *track) tell(r *Run) {
	if r.Start.IsZero() {
		r.Start = t.first
	}
	if r.Moving == 0 {
		r.Moving = t.moving / 60
	}
	if r.Elapsed == 0 {
		r.Elapsed = t.last.Sub(t.first).Minutes()
	}
	r.Elapsed = max(r.Elapsed, r.Moving)
	if r.Km == 0 {
		if r.Km = t.counted / 1000; r.Km == 0 {
			r.Km = t.meters / 1000
		}
	}
	if r.ClimbM == 0 {
		r.ClimbM = math.Round(t.climb)
	}
	if r.Cadence == 0 && t.cadenceS > 0 {
		r.steps(t.cadence / t.cadenceS)
	}
	if t.jumps > 0 {
		r.note("a jump of %.0f km was left out", math.Ceil(t.jumps/1000))
	}
	if t.back > 0 {
		r.note("%d samples whose time ran backwards were left out", t.back)
	}
	if r.Km == 0 {
		r.note("no distance")
	}
}

// Of steps of both feet a minute no runner makes fewer or more; common practice, no source.
const fewest, most = 120, 240

// steps turns a count as watches write it, strides a minute, into steps of both feet. A count that is half or twice that shows by
// what no runner does: fewer than 120 or more than 240 steps a minute.
func (r *Run) steps(strides float64) {
	switch {
	case strides <= 0 || math.IsNaN(strides):
	case 2*strides >= fewest && 2*strides <= most:
		r.Cadence = 2 * strides
	case 4*strides >= fewest && 4*strides <= most:
		r.Cadence = 4 * strides
		r.note("cadence was written as half its count: read as %.0f steps a minute", r.Cadence)
	case strides >= fewest && strides <= most:
		r.Cadence = strides
		r.note("cadence was written for both feet: read as %.0f steps a minute", r.Cadence)
	default:
		r.note("its cadence, %.0f, is no runner's and was left out", strides)
	}
}
