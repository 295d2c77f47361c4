package runfile

import (
	"encoding/xml"
	"errors"
	"io"
	"math"
	"strconv"
	"strings"
	"time"

	"golang.org/x/text/encoding/htmlindex"
)

// reader reads GPX and TCX as their elements pass.
type reader struct {
	path  []string // local names of the open elements
	text  strings.Builder
	at    point
	timed bool
	run   *Run
	track track
	sport string
	runs  []Run
	lap   struct{ s, m float64 }
	cut   bool // the next sample begins after a stop
}

// deepest an element of these formats may lie; deeper is none of them.
const deepest = 32

// readXML reads the runs of a GPX or TCX file.
func readXML(in io.Reader) (kind string, runs []Run, err error) {
	d := xml.NewDecoder(in)
	d.CharsetReader = func(label string, input io.Reader) (io.Reader, error) {
		e, err := htmlindex.Get(label)
		if err != nil {
			return nil, refuse("is written in letters nobody knows here: export it as UTF-8")
		}
		return e.NewDecoder().Reader(input), nil
	}
	r := reader{}
	for {
		token, err := d.Token()
		if errors.Is(err, io.EOF) && len(r.path) == 0 {
			break
		}
		var bad *xml.SyntaxError
		if errors.As(err, &bad) && strings.Contains(bad.Msg, "unexpected EOF") {
			err = io.ErrUnexpectedEOF
		}
		if err != nil {
			return kind, nil, err
		}
		switch t := token.(type) {
		case xml.Directive:
			return kind, nil, refuse("declares things of its own (DOCTYPE), which no watch does: it is not read")
		case xml.StartElement:
			if len(r.path) == 0 {
				if kind = map[string]string{"gpx": "GPX", "TrainingCenterDatabase": "TCX"}[t.Name.Local]; kind == "" {
					return "", nil, refuse("is an XML file of another kind than GPX and TCX")
				}
			}
			if len(r.path) > deepest {
				return kind, nil, refuse("is nested deeper than a file of a watch ever is")
			}
			r.path = append(r.path, t.Name.Local)
			r.text.Reset()
			r.begin(t)
		case xml.CharData:
			if r.text.Len()+len(t) <= 64 {
				r.text.Write(t)
			}
		case xml.EndElement:
			if err := r.end(strings.TrimSpace(r.text.String())); err != nil {
				return kind, nil, err
			}
			r.path = r.path[:len(r.path)-1]
			r.text.Reset()
		}
	}
	if len(r.runs) == 0 && r.sport != "" {
		return kind, nil, refuse("is no run: the file calls it %s", clean(strings.ToLower(r.sport)))
	}
	return kind, r.runs, nil
}

func (r *reader) begin(t xml.StartElement) {
	attr := func(name string) string {
		for _, a := range t.Attr {
			if a.Name.Local == name {
				return a.Value
			}
		}
		return ""
	}
	switch t.Name.Local {
	case "trk", "Activity":
		r.run, r.track, r.sport, r.cut = &Run{RPE: -1, Pain: -1}, track{}, attr("Sport"), false
	case "trkseg":
		r.cut = !r.track.first.IsZero()
	case "Lap":
		r.lap.s, r.lap.m = 0, 0
		if at, err := time.Parse(time.RFC3339, attr("StartTime")); err == nil && r.run != nil && r.run.Start.IsZero() {
			r.run.Start = at
		}
	case "trkpt", "Trackpoint":
		r.at, r.timed = nowhere(time.Time{}), false
		r.at.lat, r.at.lon = number(attr("lat")), number(attr("lon"))
	}
}

// number is a figure of the file, NaN where there is none.
func number(s string) float64 {
	v, err := strconv.ParseFloat(strings.TrimSpace(s), 64)
	if err != nil || math.IsInf(v, 0) {
		return math.NaN()
	}
	return v
}

// under reports an open element that the present one lies in.
func (r *reader) under(name string) bool {
	for _, n := range r.path[:len(r.path)-1] {
		if n == name {
			return true
		}
	}
	return false
}

func (r *reader) end(text string) error {
	if r.run == nil {
		return nil
	}
	sample := r.under("trkpt") || r.under("Trackpoint")
	switch name := r.path[len(r.path)-1]; name {
	case "time", "Time":
		if sample {
			if at, err := time.Parse(time.RFC3339, text); err == nil {
				r.at.at, r.timed = at, true
			}
		}
	case "ele", "AltitudeMeters":
		r.at.alt = number(text)
	case "LatitudeDegrees":
		r.at.lat = number(text)
	case "LongitudeDegrees":
		r.at.lon = number(text)
	case "cad", "RunCadence", "Cadence":
		if sample {
			r.at.cad = number(text)
		}
	case "DistanceMeters":
		if sample {
			r.at.meters = number(text)
		} else {
			r.lap.m = known(number(text))
		}
	case "TotalTimeSeconds":
		r.lap.s = known(number(text))
	case "Lap":
		r.run.Moving += r.lap.s / 60
		r.run.Km += r.lap.m / 1000
	case "type":
		if !sample && r.path[len(r.path)-2] == "trk" {
			r.sport = text
		}
	case "trkpt", "Trackpoint":
		if r.timed {
			r.at.breaks, r.cut = r.cut, false
			r.track.add(r.at)
		}
	case "trk", "Activity":
		return r.finish()
	}
	return nil
}

// finish keeps a run; what the file calls another sport is left out.
func (r *reader) finish() error {
	if len(r.runs) >= 1000 {
		return refuse("holds more than 1,000 tracks")
	}
	switch strings.ToLower(r.sport) {
	case "", "running", "run", "trail running", "trail_running", "treadmill_running", "track_running", "other", "9":
		r.track.tell(r.run)
		r.runs = append(r.runs, *r.run)
	}
	r.run = nil
	return nil
}
