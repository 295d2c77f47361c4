package runfile_test

import (
	"bytes"
	"compress/gzip"
	"encoding/json"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"

	"notchback/internal/runfile"
	"notchback/internal/standin"
	"notchback/internal/testkit"
)

var (
	now     = time.Date(2026, 3, 20, 12, 0, 0, 0, time.UTC)
	faroe   = zone("Atlantic/Faroe")
	start   = time.Date(2026, 3, 10, 17, 30, 5, 0, time.UTC)
	options = runfile.Options{Zone: faroe, Now: now}
)

func zone(name string) *time.Location {
	z, err := time.LoadLocation(name)
	if err != nil {
		panic(err)
	}
	return z
}

func read(t *testing.T, name string, data []byte, o runfile.Options) (out []runfile.Found) {
	t.Helper()
	require.NoError(t, runfile.Read(name, bytes.NewReader(data), int64(len(data)), o, func(f runfile.Found) error {
		out = append(out, f)
		return nil
	}))
	return out
}

func one(t *testing.T, name string, data []byte) runfile.Found {
	t.Helper()
	all := read(t, name, data, options)
	require.Len(t, all, 1)
	return all[0]
}

// outings are runs of the simulated watch with what makes each of them hard to read.
var outings = map[string]standin.Outing{
	"steady": {Start: start, Legs: []standin.Leg{{Seconds: 1800, Speed: 2.8, Cadence: 168, Rise: 30}}, ContactMs: 248, BounceMm: 84},
	"paused": {Start: start, Legs: []standin.Leg{{Seconds: 900, Speed: 3, Cadence: 172}, {Seconds: 240}, {Seconds: 700, Speed: 2.6,
		Cadence: 164,
		Rise:    -12}}},
	"no signal for a while": {Start: start, Legs: []standin.Leg{{Seconds: 600, Speed: 3, Cadence: 170}, {Seconds: 180, Speed: 3, Cadence: 170,
		Lost: true}, {Seconds: 600, Speed: 3, Cadence: 170}}},
	"over midnight": {Start: time.Date(2026, 3, 11, 23, 50, 0, 0, time.UTC), Legs: []standin.Leg{{Seconds: 1500, Speed: 2.5, Cadence: 160}}},
	"on the night the clocks change": {Start: time.Date(2026, 3, 1, 0, 40, 0, 0, time.UTC), Legs: []standin.Leg{{Seconds: 2400, Speed: 2.9,
		Cadence: 166}}},
	"treadmill":           {Start: start, Treadmill: true, Legs: []standin.Leg{{Seconds: 1500, Speed: 2.7, Cadence: 170}}},
	"cadence halved":      {Start: start, Count: 0.5, Legs: []standin.Leg{{Seconds: 1500, Speed: 2.7, Cadence: 170}}},
	"cadence doubled":     {Start: start, Count: 2, Legs: []standin.Leg{{Seconds: 1500, Speed: 2.7, Cadence: 170}}},
	"a place 500 km away": {Start: start, Jump: true, Legs: []standin.Leg{{Seconds: 1500, Speed: 2.7, Cadence: 170}}},
	"hills": {Start: start, Legs: []standin.Leg{{Seconds: 300, Speed: 2.2, Cadence: 165, Rise: 40}, {Seconds: 240, Speed: 3.1, Cadence: 175,
		Rise: -40}, {Seconds: 300, Speed: 2.2, Cadence: 165, Rise: 35}}},
}

// The truth of every outing comes back from FIT, GPX and TCX: distance to 0.5 %, minutes to 1 s, cadence to 1 step a minute, the
// instant it began.
func TestTheTruthComesBack(t *testing.T) {
	for name, o := range outings {
		truth := o.Truth()
		for kind, data := range map[string][]byte{"FIT": o.FIT(), "GPX": o.GPX(), "TCX": o.TCX()} {
			if o.Treadmill && kind == "GPX" {
				continue // a GPX without places is none
			}
			f := one(t, "run", data)
			what := name + ", " + kind
			require.Empty(t, f.Refused, what)
			require.Len(t, f.Runs, 1, what)
			r := f.Runs[0]
			assert.Equal(t, kind, f.Kind)
			assert.Equal(t, o.Start.Unix(), r.Start.Unix(), what)
			assert.InDelta(t, truth.Moving/60, r.Moving, 1.0/60, what)
			assert.InDelta(t, truth.Elapsed/60, r.Elapsed, 1.0/60, what)
			if o.Treadmill {
				assert.Zero(t, r.Km, what)
				assert.Contains(t, r.Notes, "no distance")
			} else {
				assert.InEpsilon(t, truth.Meters/1000, r.Km, 0.005, what)
				assert.InDelta(t, truth.Climb, r.ClimbM, 3, what)
			}
			assert.InDelta(t, truth.Cadence, r.Cadence, 1, what)
			says := strings.Join(r.Notes, "; ")
			assert.Equal(t, o.Count == 0.5, strings.Contains(says, "half its count"), what)
			assert.Equal(t, o.Count == 2, strings.Contains(says, "for both feet"), what)
			assert.Equal(t, o.Jump && kind != "", strings.Contains(says, "a jump of"), what)
			if kind == "FIT" && o.ContactMs > 0 {
				assert.InDelta(t, o.ContactMs, r.ContactMs, 0.1)
				assert.InDelta(t, o.BounceMm, r.BounceMm, 0.1)
			}
			all, err := json.Marshal(f)
			require.NoError(t, err)
			for _, place := range []string{"47.3", "-31.2", "31.27"} {
				assert.NotContains(t, string(all), place, "%s: no place is kept", what)
			}
		}
	}
}

func TestAClockThatRanBackwards(t *testing.T) {
	o := standin.Outing{Start: start, Backwards: true, Legs: []standin.Leg{{Seconds: 1200, Speed: 2.7, Cadence: 170}}}
	for _, data := range [][]byte{o.FIT(), o.GPX(), o.TCX()} {
		f := one(t, "run", data)
		require.Len(t, f.Runs, 1, f.Refused)
		assert.InDelta(t, 20, f.Runs[0].Moving, 1.0/60)
		assert.Contains(t, f.Runs[0].Notes, "5 samples whose time ran backwards were left out")
	}
}

// A table of half the world, and one of the other half: the same runs, to the second, in the runner's zone.
func TestTablesOfRuns(t *testing.T) {
	all := []standin.Outing{outings["steady"], outings["over midnight"], outings["on the night the clocks change"]}
	plain := string(standin.OutingsCSV(",", faroe, all...))
	comma := string(standin.OutingsCSV(";", faroe, all...))
	latin, err := charmap.Windows1252.NewEncoder().String(strings.Replace(comma, "Climb (m)", "Höhenmeter", 1))
	require.NoError(t, err)
	wide, err := unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewEncoder().String(strings.ReplaceAll(plain, ",", "\t"))
	require.NoError(t, err)
	for name, text := range map[string]string{"comma": plain, "semicolon": comma, "latin": latin, "utf-16": wide, "bom": "\ufeff" + plain} {
		f := one(t, "runs.csv", []byte(text))
		require.Empty(t, f.Refused, name)
		require.Len(t, f.Runs, 3, name)
		for i, o := range all {
			r, truth := f.Runs[i], o.Truth()
			assert.Equal(t, o.Start.Unix(), r.Start.Unix(), "%s %d", name, i)
			assert.InDelta(t, truth.Moving/60, r.Moving, 1.0/60, "%s %d", name, i)
			assert.InEpsilon(t, truth.Meters/1000, r.Km, 0.005, "%s %d", name, i)
			assert.InDelta(t, truth.Cadence, r.Cadence, 1, "%s %d", name, i)
			assert.InDelta(t, truth.Climb, r.ClimbM, 1, "%s %d", name, i)
		}
	}
}

// How dates, clocks, durations and distances are written, row by row.
func TestHowATableIsWritten(t *testing.T) {
	on := func(d, h, m int) time.Time { return time.Date(2026, 3, d, h, m, 0, 0, faroe) }
	for text, want := range map[string]struct {
		start   time.Time
		minutes float64
		km      float64
	}{
		"date,minutes,km\n2026-03-04,45,8.5":                         {on(4, 12, 0), 45, 8.5},
		"date,minutes,km\n2026-03-04 06:30,45,8.5":                   {on(4, 6, 30), 45, 8.5},
		"date;minutes;km\n04.03.2026 06:30;45,5;8,5":                 {on(4, 6, 30), 45.5, 8.5},
		"date,duration,distance (mi)\n03/14/2026 6:30 PM,1:02:30,6":  {on(14, 18, 30), 62.5, 9.656},
		"date,duration,distance (m)\n14/03/2026,50:15,\"10,000\"":    {on(14, 12, 0), 50.25, 10},
		"date,duration,km\n14/03/2026,1:05,12":                       {on(14, 12, 0), 65, 12},
		"Date,Moving Time (s),Distance\n\"Mar 4, 2026\",1800,5200":   {on(4, 12, 0), 30, 5.2},
		"Datum\tDauer\tStrecke km\n4.3.26\t1h 05m\t11,2":             {on(4, 12, 0), 65, 11.2},
		"start time,duration,km\n2026-03-04T06:30:00Z,30,5":          {time.Date(2026, 3, 4, 6, 30, 0, 0, time.UTC), 30, 5},
		"start time,duration,km\n2026-03-04T06:30:00+02:00,30,5":     {time.Date(2026, 3, 4, 4, 30, 0, 0, time.UTC), 30, 5},
		"date,time,km\n2026-03-04,30:00,5":                           {on(4, 12, 0), 30, 5},
		"date,start,elapsed time,km\n2026-03-04,12:05 AM,00:30:00,5": {on(4, 0, 5), 30, 5},
	} {
		f := one(t, "x.csv", []byte(text))
		require.Len(t, f.Runs, 1, "%s: %s", text, f.Refused)
		assert.Equal(t, want.start.Unix(), f.Runs[0].Start.Unix(), "%s: %s", text, f.Runs[0].Start)
		assert.InDelta(t, want.minutes, f.Runs[0].Moving, 0.01, text)
		assert.InDelta(t, want.km, f.Runs[0].Km, 0.001, text)
	}
	f := one(t, "x.csv", []byte("date,minutes,km,pain,effort,type,shoe\n"+
		"03/04/2026,40,7,2.5,6,long,Grey\n\n03/05/2026,40,7,,,,\n2026-13-31,1,1,,,,\n"))
	require.Empty(t, f.Refused)
	require.Len(t, f.Runs, 2)
	assert.Equal(t, 3, f.Runs[0].Pain, "never less than was said")
	assert.Equal(t, [2]int{6, -1}, [2]int{f.Runs[0].RPE, f.Runs[1].RPE})
	assert.Equal(t, "long, Grey", f.Runs[0].Kind+", "+f.Runs[0].Shoe)
	assert.Len(t, f.Left, 1)
	assert.Contains(t, f.Left[0], "has no date that can be read")
	f = one(t, "x.csv", []byte("date,minutes\n02/03/2026,40"))
	assert.Contains(t, f.Runs[0].Notes[0], "the other way round: read as 2 March 2026")
	f = one(t, "x.csv", []byte("date,minutes\n03/04/2026,40"))
	assert.Equal(t, "2026-03-04", f.Runs[0].Start.Format(time.DateOnly), "the third of April is still to come")
	assert.Empty(t, f.Runs[0].Notes)
	f = one(t, "x.csv", []byte("day,minutes\n13/04/2026,40\n04/13/2026,40"))
	assert.Contains(t, f.Refused, "some dates with the day first and some with the month first")
	chosen := options
	chosen.Columns = map[string]string{"date": "B", "minutes": "A"}
	all := read(t, "x.csv", []byte("A,B\n40,2026-03-04"), chosen)
	require.Len(t, all[0].Runs, 1, all[0].Refused)
	assert.InDelta(t, 40, all[0].Runs[0].Moving, 0)
}

func gzipped(t testing.TB, data []byte) []byte {
	t.Helper()
	var b bytes.Buffer
	z := gzip.NewWriter(&b)
	_, err := z.Write(data)
	require.NoError(t, err)
	require.NoError(t, z.Close())
	return b.Bytes()
}

// What is broken, hostile or no run is told in plain words, and the rest still goes in.
func TestWhatIsRefused(t *testing.T) {
	o := outings["steady"]
	fit := o.FIT()
	wrongSum := bytes.Clone(fit)
	wrongSum[len(wrongSum)-1] ^= 0xff
	ride := o
	ride.Sport, ride.Legs = "cycling", []standin.Leg{{Seconds: 1800, Speed: 9, Cadence: 160}}
	fast := ride
	fast.Sport = ""
	late, old := o, o
	late.Clock, old.Clock = 3, -200
	course := bytes.ReplaceAll(o.GPX(), []byte("<time>"), []byte("<when>"))
	course = bytes.ReplaceAll(course, []byte("</time>"), []byte("</when>"))
	bomb := testkit.Zip(t, map[string][]byte{"bomb.gpx": append([]byte("<gpx>"), bytes.Repeat([]byte(" "), 40<<20)...)})
	refused := map[string][]byte{
		"cut short":                     fit[:len(fit)/2],
		"is cut short":                  o.GPX()[:2000],
		"check sum":                     wrongSum,
		"calls it cycling":              ride.FIT(),
		"calls it biking":               ride.TCX(),
		"is no run: the file calls it":  ride.GPX(),
		"is no run: 32 km/h":            fast.GPX(),
		"dated after today":             late.GPX(),
		"is dated 1826":                 old.GPX(),
		"has no times":                  course,
		"swells far more":               bomb,
		"is empty":                      {},
		"none of FIT, GPX, TCX and CSV": {0, 1, 2, 3, 4},
		"of another kind":               []byte(`<html><body/></html>`),
		"DOCTYPE":                       []byte(`<!DOCTYPE gpx [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;">]><gpx>&b;</gpx>`),
		"declares things of its own":    []byte(`<!DOCTYPE gpx SYSTEM "file:///etc/passwd"><gpx/>`),
		"is damaged":                    []byte(`<gpx>&outside;</gpx>`),
		"nested deeper":                 []byte(`<gpx>` + strings.Repeat("<a>", 3000)),
		"no column for the date":        []byte("a,b\n1,2\n"),
		"no column for the minutes":     []byte("date,km\n2026-03-01,2\n"),
		"package inside a package":      testkit.Zip(t, map[string][]byte{"in.zip": testkit.Zip(t, map[string][]byte{"a.fit": fit})}),
		"a package inside":              gzipped(t, gzipped(t, fit)),
		"shorter than a minute":         standin.Outing{Start: start, Legs: []standin.Leg{{Seconds: 30, Speed: 3, Cadence: 170}}}.FIT(),
		"damaged ZIP":                   []byte("PK\x03\x04 and no more"),
	}
	for says, data := range refused {
		f := one(t, "x", data)
		assert.Empty(t, f.Runs, says)
		assert.Contains(t, f.Refused, says)
	}
	mixed := map[string][]byte{"good.fit": fit, "../../etc/good.gpx": outings["paused"].GPX(), "bad.fit": wrongSum, "wrong.gpx": o.TCX(),
		"packed.fit.gz": gzipped(t, fit), "__MACOSX/._x": {1}, "C:\\runs\\more.tcx": outings["hills"].TCX()}
	found := map[string]string{}
	for _, f := range read(t, "all.zip", testkit.Zip(t, mixed), options) {
		found[f.Name] = f.Kind + f.Refused
	}
	assert.Equal(t, map[string]string{"good.fit": "FIT", "good.gpx": "GPX", "wrong.gpx": "TCX", "packed.fit": "FIT", "more.tcx": "TCX",
		"bad.fit": "FITdoes not add up to its own check sum: it was changed or damaged on the way; export it again"}, found)
}

// The same file is known again whatever it is called and however it is packed.
func TestAFileIsKnownByWhatItHolds(t *testing.T) {
	fit := outings["steady"].FIT()
	first := one(t, "a.fit", fit)
	assert.Equal(t, first.Hash, one(t, "b.gz", gzipped(t, fit)).Hash)
	assert.Equal(t, first.Hash, one(t, "c.zip", testkit.Zip(t, map[string][]byte{"d": fit})).Hash)
	assert.Equal(t, int64(len(fit)), first.Size)
	assert.Len(t, first.Hash, 64)
	csv := standin.OutingsCSV(",", faroe, outings["steady"])
	assert.NotEqual(t, one(t, "a", csv).Hash, one(t, "a", append(csv, '\n')).Hash, "to its last byte")
}

// Whatever a file holds: a run that can be, or a reason, and never more. One for each kind; gzip and ZIP come as packages of them.
func FuzzFIT(f *testing.F) { fuzz(f, outing.FIT(), outing.FIT()[:120]) }
func FuzzGPX(f *testing.F) { fuzz(f, outing.GPX()) }
func FuzzTCX(f *testing.F) { fuzz(f, outing.TCX()) }
func FuzzCSV(f *testing.F) {
	fuzz(f, standin.OutingsCSV(";", faroe, outing), standin.OutingsCSV(",", faroe, outing, outing))
}
func FuzzPackage(f *testing.F) {
	fuzz(f, testkit.Zip(f, map[string][]byte{"a.fit": outing.FIT(), "b.csv": []byte("date,min\n2026-03-01,30\n")}),
		gzipped(f, outing.TCX()), []byte("PK\x03\x04"), []byte{0x1f, 0x8b, 8})
}

var outing = standin.Outing{Start: start, Legs: []standin.Leg{{Seconds: 90, Speed: 3, Cadence: 170}}}

func fuzz(f *testing.F, seeds ...[]byte) {
	for _, s := range seeds {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		for _, found := range read(t, "fuzz", data, options) {
			if found.Refused == "" && len(found.Runs) == 0 {
				t.Fatal("neither a run nor a reason")
			}
			for _, r := range found.Runs {
				if r.Moving < 1 || r.Moving > 1440 || r.Km < 0 || r.Km > 250 || r.Cadence < 0 || r.Cadence > 480 ||
					r.Start.After(now.Add(24*time.Hour)) {
					t.Fatalf("no run can be %+v", r)
				}
			}
			if _, err := json.Marshal(found); err != nil {
				t.Fatal(err)
			}
		}
	})
}

// Five megabytes of FIT.
func BenchmarkFIT(b *testing.B) {
	o := standin.Outing{Start: start, Legs: []standin.Leg{{Seconds: 40_000, Speed: 2.2, Cadence: 164}}}
	var f []byte
	for f = o.FIT(); len(f) < 5<<20; {
		o.Legs = append(o.Legs, standin.Leg{Seconds: 40_000, Speed: 2.2, Cadence: 164})
		f = o.FIT()
	}
	b.SetBytes(int64(len(f)))
	b.ReportAllocs()
	for b.Loop() {
		_ = runfile.Read("x", bytes.NewReader(f), int64(len(f)), options, func(runfile.Found) error { return nil })
	}
}
