package standin

import (
	"bytes"
	"fmt"
	"math"
	"strings"
	"time"

	"notchback/internal/device"
	"notchback/internal/fit"
)

// Leg is a stretch of an outing at one pace.
type Leg struct {
	Seconds int
	Speed   float64 // m/s; 0 stands still with the watch stopped
	Cadence float64 // steps of both feet a minute
	Rise    float64 // m over the leg
	Lost    bool    // no signal: no samples come
}

// Outing is one run of a made-up runner whose truth is known, as a simulated watch records it.
type Outing struct {
	Start     time.Time
	Legs      []Leg
	Treadmill bool    // no places, no distance
	Clock     float64 // years the watch's clock is off
	Count     float64 // what the watch makes of the cadence: 1 as it is, 0.5 half of it, 2 twice; 0 is 1
	Sport     string  // empty: running
	Jump      bool    // one sample lies 500 km away
	Backwards bool    // the clock runs a minute back halfway
	ContactMs float64
	BounceMm  float64
}

// Truth is what really was: metres, seconds moved and gone by, steps a minute while moving, metres climbed.
type Truth struct {
	Meters, Moving, Elapsed, Cadence, Climb float64
}

// Truth adds an outing up.
func (o Outing) Truth() (t Truth) {
	steps := 0.0
	for _, l := range o.Legs {
		s := float64(l.Seconds)
		t.Elapsed += s
		if l.Speed == 0 {
			continue
		}
		t.Moving += s
		t.Meters += s * l.Speed
		t.Climb += max(0, l.Rise)
		steps += s / 60 * l.Cadence
	}
	if t.Moving > 0 {
		t.Cadence = steps / (t.Moving / 60)
	}
	return t
}

// Where the made-up runner runs: open water, on purpose.
const (
	OutingLat = 47.3141
	OutingLon = -31.2718
)

// sample is one record of the simulated watch.
type sample struct {
	at                        time.Time
	lat, lon, alt, meters, of float64 // of: steps a minute
	breaks                    bool    // the watch was stopped before it
}

// samples are the outing, one a second and the first at its start.
func (o Outing) samples() (out []sample) {
	const metre = 180 / math.Pi / 6371008.8
	at := o.Start.Add(time.Duration(o.Clock * 365.25 * 24 * float64(time.Hour)))
	s := sample{at: at, lat: OutingLat, lon: OutingLon, alt: 12}
	heading, second, stopped := 0.0, 0, false
	total := int(o.Truth().Elapsed)
	for n, l := range o.Legs {
		if l.Speed == 0 {
			second += l.Seconds
			stopped = true
			continue
		}
		for i := range l.Seconds + 1 {
			if i > 0 {
				second++
				if !l.Lost {
					heading += 0.002 // a wide circle
				}
				s.lat += l.Speed * math.Cos(heading) * metre
				s.lon += l.Speed * math.Sin(heading) * metre / math.Cos(s.lat*math.Pi/180)
				s.alt += l.Rise / float64(l.Seconds)
				s.meters += l.Speed
			}
			if i == 0 && n > 0 && !stopped || l.Lost && i < l.Seconds {
				continue
			}
			s.at, s.of, s.breaks = at.Add(time.Duration(second)*time.Second), l.Cadence, stopped
			stopped = false
			put := s
			if o.Jump && second == total/3 {
				put.lat += 4.5
			}
			if o.Backwards && second > total/2 && second <= total/2+5 {
				put.at = put.at.Add(-time.Minute)
			}
			out = append(out, put)
		}
	}
	return out
}

func (o Outing) sport() string {
	if o.Sport == "" {
		return "running"
	}
	return o.Sport
}

// strides is the cadence as watches write it, one foot's, and as this one miscounts it.
func (o Outing) strides(of float64) float64 {
	if o.Count == 0 {
		return of / 2
	}
	return of / 2 * o.Count
}

// FIT writes the outing as a watch's own file.
func (o Outing) FIT() []byte {
	var f fit.File
	t, all := o.Truth(), o.samples()
	first, last := all[0].at, all[len(all)-1].at
	f.Add(0, fit.Field{Number: 0, Value: uint8(4)}, fit.Field{Number: 1, Value: uint16(255)},
		fit.Field{Number: 4, Value: fit.Time(first)})
	for _, s := range all {
		lat, lon, meters := int32(math.MaxInt32), int32(math.MaxInt32), uint32(math.MaxUint32)
		if !o.Treadmill {
			lat, lon, meters = semicircles(s.lat), semicircles(s.lon), uint32(math.Round(s.meters*100))
		}
		whole, part := math.Modf(o.strides(s.of))
		f.Add(20, fit.Field{Number: 253, Value: fit.Time(s.at)}, fit.Field{Number: 0, Value: lat},
			fit.Field{Number: 1, Value: lon}, fit.Field{Number: 2, Value: uint16(math.Round((s.alt + 500) * 5))},
			fit.Field{Number: 5, Value: meters}, fit.Field{Number: 4, Value: uint8(whole)},
			fit.Field{Number: 53, Value: uint8(part * 128)}, fit.Field{Number: 3, Value: uint8(150)})
	}
	sport, sub, meters := uint8(1), uint8(0), uint32(math.Round(t.Meters*100))
	if o.sport() != "running" {
		sport = 2
	}
	if o.Treadmill {
		sub, meters = 1, math.MaxUint32
	}
	contact, bounce := uint16(math.MaxUint16), uint16(math.MaxUint16)
	if o.ContactMs > 0 {
		contact, bounce = uint16(o.ContactMs*10), uint16(o.BounceMm*10)
	}
	f.Add(18, fit.Field{Number: 253, Value: fit.Time(last)}, fit.Field{Number: 2, Value: fit.Time(first)},
		fit.Field{Number: 7, Value: uint32(t.Elapsed * 1000)}, fit.Field{Number: 8, Value: uint32(t.Moving * 1000)},
		fit.Field{Number: 9, Value: meters}, fit.Field{Number: 22, Value: uint16(math.Round(t.Climb))},
		fit.Field{Number: 5, Value: sport}, fit.Field{Number: 6, Value: sub}, fit.Field{Number: 91, Value: contact},
		fit.Field{Number: 89, Value: bounce})
	f.Add(34, fit.Field{Number: 253, Value: fit.Time(last)}, fit.Field{Number: 0, Value: uint32(t.Moving * 1000)},
		fit.Field{Number: 1, Value: uint16(1)})
	return f.Bytes()
}

func semicircles(degrees float64) int32 { return int32(math.Round(degrees / 180 * (1 << 31))) }

// GPX writes the outing as GPX 1.1; a stopped watch begins another segment.
func (o Outing) GPX() []byte {
	var b bytes.Buffer
	b.WriteString(`<?xml version="1.0" encoding="UTF-8"?>` + "\n" + `<gpx version="1.1" creator="simulated watch" ` +
		`xmlns="http://www.topografix.com/GPX/1/1" xmlns:x="urn:simulated"><trk><name>Simulated run</name><type>` + o.sport() + `</type><trkseg>`)
	for _, s := range o.samples() {
		if s.breaks {
			b.WriteString("</trkseg><trkseg>")
		}
		fmt.Fprintf(&b, `<trkpt lat="%.7f" lon="%.7f"><ele>%.1f</ele><time>%s</time>`+
			`<extensions><x:cad>%.2f</x:cad><x:hr>150</x:hr></extensions></trkpt>`+
			"\n", s.lat, s.lon, s.alt, s.at.UTC().Format(time.RFC3339), o.strides(s.of))
	}
	b.WriteString("</trkseg></trk></gpx>\n")
	return b.Bytes()
}

// TCX writes the outing in laps; the clock of a lap stands while the watch is stopped.
func (o Outing) TCX() []byte {
	var b bytes.Buffer
	t, all := o.Truth(), o.samples()
	sport := map[bool]string{true: "Running", false: "Biking"}[o.sport() == "running"]
	start := all[0].at.UTC().Format(time.RFC3339)
	meters := ""
	if !o.Treadmill {
		meters = fmt.Sprintf("<DistanceMeters>%.2f</DistanceMeters>", t.Meters)
	}
	fmt.Fprintf(&b, `<?xml version="1.0" encoding="UTF-8"?><TrainingCenterDatabase><Activities><Activity Sport="%s"><Id>%s</Id>`+
		`<Lap StartTime="%s"><TotalTimeSeconds>%.1f</TotalTimeSeconds>%s<Track>`, sport, start, start, t.Moving, meters)
	for _, s := range all {
		place := ""
		if !o.Treadmill {
			place = fmt.Sprintf("<Position><LatitudeDegrees>%.7f</LatitudeDegrees><LongitudeDegrees>%.7f</LongitudeDegrees></Position>"+
				"<AltitudeMeters>%.1f</AltitudeMeters><DistanceMeters>%.2f</DistanceMeters>", s.lat, s.lon, s.alt, s.meters)
		}
		fmt.Fprintf(&b, "<Trackpoint><Time>%s</Time>%s<HeartRateBpm><Value>150</Value></HeartRateBpm><Extensions><TPX><RunCadence>%.2f"+
			"</RunCadence></TPX></Extensions></Trackpoint>\n", s.at.UTC().Format(time.RFC3339), place, o.strides(s.of))
	}
	b.WriteString("</Track></Lap></Activity></Activities></TrainingCenterDatabase>\n")
	return b.Bytes()
}

// OutingsCSV writes outings as a table, a row each, with clock times of a zone; with a semicolon between cells figures have a
// comma, as in tables of half the world.
func OutingsCSV(separator string, zone *time.Location, outings ...Outing) []byte {
	var b bytes.Buffer
	rows := [][]string{{"Date", "Start", "Duration", "Distance (km)", "Cadence (spm)", "Climb (m)"}}
	for _, o := range outings {
		t := o.Truth()
		s := int(t.Moving)
		rows = append(rows, []string{o.Start.In(zone).Format("02.01.2006"), o.Start.In(zone).Format("15:04:05"),
			fmt.Sprintf("%d:%02d:%02d", s/3600, s/60%60, s%60), fmt.Sprintf("%.3f", t.Meters/1000), fmt.Sprintf("%.1f", t.Cadence),
			fmt.Sprintf("%.0f", t.Climb)})
	}
	for n, row := range rows {
		line := strings.Join(row, separator)
		if n > 0 && separator == ";" {
			for i := 3; i < 5; i++ {
				row[i] = strings.ReplaceAll(row[i], ".", ",")
			}
			line = strings.Join(row, separator)
		}
		b.WriteString(line + "\r\n")
	}
	return b.Bytes()
}

// Wrist is the simulated watch of the demo: what it holds of the last days.
type Wrist struct{}

// Outings are runs of the last nine days before a moment as files: a run twice in two formats, one with pauses and half the
// cadence, one on a treadmill without distance, a table of two, and a file that was cut short.
func (Wrist) Outings(now time.Time) []device.File {
	day := now.UTC().Truncate(24 * time.Hour)
	at := func(days, hour int) time.Time { return day.AddDate(0, 0, -days).Add(time.Duration(hour) * time.Hour) }
	easy := Outing{Start: at(2, 6), ContactMs: 248, BounceMm: 84, Legs: []Leg{{Seconds: 900, Speed: 2.6, Cadence: 166, Rise: 18},
		{Seconds: 120}, {Seconds: 1500, Speed: 2.7, Cadence: 168}}}
	causeway := Outing{Start: at(4, 17), Count: 0.5, Legs: []Leg{{Seconds: 2100, Speed: 2.9, Cadence: 172, Rise: 35}, {Seconds: 60, Lost: true,
		Speed: 2.9, Cadence: 172}}}
	belt := Outing{Start: at(6, 18), Treadmill: true, Legs: []Leg{{Seconds: 1800, Speed: 2.5, Cadence: 165}}}
	early := []Outing{{Start: at(8, 6), Legs: []Leg{{Seconds: 1500, Speed: 2.6, Cadence: 165}}},
		{Start: at(9, 6), Legs: []Leg{{Seconds: 1800, Speed: 2.6, Cadence: 166}}}}
	return []device.File{{Name: "harbour-easy.fit", Data: easy.FIT()}, {Name: "harbour-easy.gpx", Data: easy.GPX()},
		{Name: "causeway.tcx", Data: causeway.TCX()}, {Name: "belt.fit", Data: belt.FIT()},
		{Name: "before.csv", Data: OutingsCSV(";", time.UTC, early...)}, {Name: "cut-short.fit", Data: causeway.FIT()[:800]}}
}
