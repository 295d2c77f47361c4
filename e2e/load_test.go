package e2e

import (
	"context"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
	"notchback/internal/crowd"
	"notchback/internal/room"
	"notchback/internal/standin"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// ran is a run of the simulated watch so many days before the desk's day.
func (w *world) ran(days, seconds int) standin.Outing {
	start := w.desk.Now().UTC().AddDate(0, 0, -days).Truncate(24 * time.Hour).Add(7 * time.Hour)
	return standin.Outing{Start: start, Legs: []standin.Leg{{Seconds: seconds, Speed: 2.8, Cadence: 170, Rise: 25}}}
}

// A mixed folder with a duplicate: previewed, added, the volume goes high and the calf waits for it; undone as a whole, it is
// as before.
func TestAFolderOfRuns(t *testing.T) {
	w := start(t)
	profile := testkit.Profile()
	profile.NotRunning, profile.WeeklyMinutes, profile.LongestRunKm = false, 60, 6
	runner := w.programmed(profile)
	w.runsOf(runner, 60)
	dir := t.TempDir()
	put := func(name string, data []byte) string {
		file := filepath.Join(dir, name)
		require.NoError(t, os.WriteFile(file, data, 0o600))
		return file
	}
	long := w.ran(1, 5400)
	pack := put("more.zip", testkit.Zip(t, map[string][]byte{"same.gpx": long.GPX()}))
	files := []string{put("long.fit", long.FIT()), put("short.tcx", w.ran(2, 1800).TCX()), pack, put("broken.fit", long.FIT()[:500]),
		put("holiday.jpg", []byte{0xff, 0xd8, 0xff, 0xe0, 0, 16})}

	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/load")
	reads(t, p, "Last seven days", "60 min", "usual", "Or drop files here")
	p.MustElement(`input[type=file]`).MustSetFiles(files...)
	reads(t, p, "2 new", "1 there already", "2 files not read", "is cut short: export it again", "is none of FIT, GPX, TCX and CSV",
		"a run of 90 min on", "Add 2 runs")
	assert.NotContains(t, text(p), "Undo this import", "nothing is added yet")
	press(p, "^Add 2 runs$")
	reads(t, p, "unning volume is high", "high", "2 runs", "Undo this import", "170")
	state, _ := w.volume(runner)
	assert.Equal(t, load.High, state)
	press(p, "Undo this import")
	reads(t, p, "undone", "usual")
	state, _ = w.volume(runner)
	assert.Equal(t, load.Usual, state)

	// By hand; corrected, the first entry counts no more.
	press(p, "^Enter a run$")
	fill(p, "Minutes", "25")
	fill(p, "Effort, 1–10", "4")
	press(p, "^Keep the run$")
	until(t, p, "lists it", `() => [...document.querySelectorAll("td")].some((x) => x.textContent === "25")`)
	choose(p, "button", "^Correct$")
	fill(p, "Minutes", "20")
	press(p, "^Keep the correction$")
	until(t, p, "lists it corrected", `() => { const t = [...document.querySelectorAll("td")].map((x) => x.textContent);
		return t.includes("20") && !t.includes("25"); }`)
}

// runsOf is a steady month: so many minutes a week, told until today.
func (w *world) runsOf(runner string, minutes float64) {
	for week := range 4 {
		on := body.DateOf(w.desk.Now().UTC()).Add(-7*week - 3)
		require.NoError(w.t, w.desk.AddRun(context.Background(), w.desk.Actor, runner, "phone", load.Run{ID: store.NewID(), On: on,
			Minutes: minutes,
			Km:      minutes / 6, RPE: 4}, ""))
	}
}

func (w *world) volume(runner string) (load.State, body.Reason) {
	o := w.chart(runner)
	return load.Volume(o.Runs, o.Profile, o.Today, o.House)
}

// twoRuns is a runner of two fixed runs a week.
func twoRuns() body.Profile {
	p := testkit.Profile()
	p.NotRunning, p.WeeklyMinutes, p.LongestRunKm = false, 100, 9
	p.Runs = []body.FixedRun{{Weekday: 1, Minutes: 50, Quality: "easy"}, {Weekday: 5, Minutes: 50, Quality: "easy"}}
	return p
}

// trains plays days of a runner from the desk's day on: quiet mornings, every session whole, the fixed runs.
func (w *world) trains(p *rod.Page, runner string, days int) {
	ctx := context.Background()
	from := w.desk.Ahead()
	for i := range days {
		w.shift(p, from+time.Duration(i)*24*time.Hour)
		o := w.chart(runner)
		for _, place := range o.Watched() {
			require.NoError(w.t, w.desk.AddMorning(ctx, w.desk.Actor, runner, "phone",
				build.Morning{ID: store.NewID(), On: o.Today, Region: place.Region, Side: place.Side}))
		}
		page := o.Phone(w.desk.Now())
		for _, it := range page.Sessions[0].Items {
			for _, side := range it.Sides {
				for _, id := range side.Prescriptions {
					done := make([]int, side.Exact.TotalSets())
					for k := range done {
						done[k] = side.Exact.Amount()
					}
					require.NoError(w.t, w.desk.AddLog(ctx, w.desk.Actor, runner, room.Entry{Prescription: id, Log: adjust.Log{ID: store.NewID(),
						On: o.Today, Done: done, RPE: 6, Times: side.Exact.Times(), Source: "phone"}}))
				}
			}
		}
		if page.RunToday != nil {
			require.NoError(w.t, w.desk.AddRun(ctx, w.desk.Actor, runner, "phone", load.Run{ID: store.NewID(), On: o.Today,
				Minutes: float64(page.RunToday.Minutes), Km: 9, RPE: 4}, ""))
		}
	}
	w.shift(p, from+time.Duration(days)*24*time.Hour)
	o := w.chart(runner)
	for _, place := range o.Watched() {
		require.NoError(w.t, w.desk.AddMorning(ctx, w.desk.Actor, runner, "phone",
			build.Morning{ID: store.NewID(), On: o.Today, Region: place.Region, Side: place.Side}))
	}
}

// A calf rail that would move up is held by its reason once an import makes the running high; what-if says so before, and the rail
// is free again when the import is undone.
func TestTheVolumeHoldsTheCalf(t *testing.T) {
	w := start(t)
	runner := w.programmed(twoRuns())
	p := w.signedIn()
	w.trains(p, runner, 15)
	o := w.chart(runner)
	var calf adjust.Proposal
	for _, x := range o.Proposals() {
		rail, _ := o.Catalogue.Find(x.Rail)
		to, _ := rail.Exercise(x.To.Exercise)
		if x.Verdict == adjust.Up && rail.Calf() && to.Level >= 3 {
			calf = x
		}
	}
	require.NotEmpty(t, calf.Rail, "a calf rail earned its move")
	rail, _ := o.Catalogue.Find(calf.Rail)
	at := "http://" + w.addr + "/runners/" + runner
	shows := func(word string) {
		t.Helper()
		p.MustNavigate(at + "/adjust")
		until(t, p, rail.Name+" says "+word, `(name, word) => document.querySelector('section[aria-label="' + name + '"]')
			?.innerText.replace(/\s+/g, " ").includes(word)`, rail.Name, word)
	}
	shows("notch up")

	// What if twice as much were run in the next week? Nothing of it is stored.
	before := o.Touched
	fill(p, "Running in the next seven days, min", "260")
	press(p, "See what would move")
	reads(t, p, "running volume ▲ high", "As planned")
	until(t, p, "says what would wait", `name => [...document.querySelectorAll('section[aria-label="What if"] tr')].some((r) =>
		r.innerText.includes(name) && r.innerText.includes("hold") && r.innerText.includes("volume is high"))`, rail.Name)
	assert.Equal(t, before, w.chart(runner).Touched)
	shows("notch up")

	file := filepath.Join(t.TempDir(), "long.fit")
	require.NoError(t, os.WriteFile(file, w.ran(1, 7200).FIT(), 0o600))
	p.MustNavigate(at + "/load")
	reads(t, p, "Or drop files here")
	p.MustElement(`input[type=file]`).MustSetFiles(file)
	press(p, "^Add 1 run$")
	reads(t, p, "unning volume is high", "Undo this import")
	shows("running volume is high")
	p.MustNavigate(at + "/load")
	press(p, "Undo this import")
	reads(t, p, "undone")
	shows("notch up")
}

// Weeks are planned at the desk, what leads is said on every page, and the strip is read by keys down to what a day was computed
// from.
func TestPlanningWeeksAndReadingTheStrip(t *testing.T) {
	w := start(t)
	runner := w.programmed(twoRuns())
	p := w.signedIn()
	w.trains(p, runner, 16)
	at := "http://" + w.addr + "/runners/" + runner
	p.MustNavigate(at + "/load")
	reads(t, p, "This week strength leads", "13 weeks")
	press(p, "^Plan the weeks$")
	fill(p, "Grow each week by", "8")
	fill(p, "An easier week every", "4")
	next := w.chart(runner).Today.Monday().Add(7)
	fill(p, "Minutes in the week of "+next.Short(), "400")
	press(p, "^Keep the plan$")
	reads(t, p, "Change the plan", "running leads")
	weeks := w.chart(runner).RunningWeeks()
	assert.Equal(t, 400, weeks[9].Wanted)
	assert.Less(t, weeks[9].Planned, 130, "no week holds more than its limit")
	press(p, "^Change the plan$")
	reads(t, p, "400 wanted")
	press(p, "^Leave it$")
	for _, page := range []string{"/adjust", "/week", "/build"} {
		p.MustNavigate(at + page)
		reads(t, p, "This week running leads")
	}

	p.MustNavigate(at + "/load")
	history := p.MustElement(`[role=slider][aria-label=History]`)
	history.MustFocus()
	said := func() string { return *history.MustAttribute("aria-valuetext") }
	first := said()
	p.MustElement("[role=slider]").MustType(input.ArrowLeft)
	until(t, p, "reads the day before", `was => document.querySelector("[role=slider]").getAttribute("aria-valuetext") !== was`, first)
	assert.Contains(t, said(), "first steps")
	p.MustElement("[role=slider]").MustType(input.Enter)
	choose(p, `[aria-label^="What "] [role=button]`, "First steps")
	reads(t, p, "strip.morning", "of 10")
	press(p, "^Two years$")
	reads(t, p, "a week a column")
	press(p, "^As a table$")
	reads(t, p, "min run;", "rails done")
	press(p, "^Open the week$")
	reads(t, p, "a day a column")
}

var manyFiles = flag.Int("files", 250, "how many files are imported at once")

// Many small files: their progress is seen, and all of them are added at once. A thousand with -files 1000.
func TestManyFilesInTheBrowser(t *testing.T) {
	w := start(t)
	runner := w.desk.Runner(t, testkit.Profile())
	dir, files := t.TempDir(), []string{}
	for i := range *manyFiles {
		o := w.ran(1+i/4, 300+i%60)
		o.Start = o.Start.Add(time.Duration(i%4) * 3 * time.Hour)
		files = append(files, filepath.Join(dir, fmt.Sprintf("%04d.fit", i)))
		require.NoError(t, os.WriteFile(files[i], o.FIT(), 0o600))
	}
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/load")
	reads(t, p, "Or drop files here")
	began := time.Now()
	p.MustElement(`input[type=file]`).MustSetFiles(files...)
	until(t, p, "shows how far it is", `() => document.querySelector('progress[aria-label="Files read"]')?.value > 0`)
	reads(t, p, fmt.Sprint(*manyFiles, " new"), fmt.Sprintf("Add %d runs", *manyFiles))
	press(p, fmt.Sprintf("^Add %d runs$", *manyFiles))
	reads(t, p, fmt.Sprint(*manyFiles, " runs"), "Undo this import")
	t.Logf("%d files, from the choice to the record: %.1f s", *manyFiles, time.Since(began).Seconds())
}

// A run that hurt, told on the phone: it is asked where, it opens the signs, its place is sore for the rules, and it is watched from
// then on. And files from the phone.
func TestARunThatHurt(t *testing.T) {
	w := start(t)
	runner := w.programmed(testkit.Profile())
	ph := w.open("/phone#"+w.linked(runner), 390, 844)
	reads(t, ph, "First steps")
	press(ph, "^Enter a run$")
	fill(ph, "Minutes", "40")
	press(ph, "^Keep the run$")
	reads(t, ph, "Tap what hurt while running, 0 for nothing.")
	tap(ph.MustElement(`button[aria-label="Pain while running: 6"]`))
	press(ph, "^Keep the run$")
	reads(t, ph, "Say where it hurt, and on which side.")
	ph.MustElementByJS(`() => [...document.querySelectorAll("label")].find((l) => l.innerText.startsWith("Where")).querySelector("select")`).
		MustSelect("heel (back)")
	choose(ph, "[role=radio]", "^left$")
	choose(ph, "[role=radio]", "^not yet$")
	press(ph, "^Keep the run$")
	reads(t, ph, "None of these")
	until(t, ph, "has sent", `() => !document.body.innerText.includes("not sent yet")`)
	o := w.chart(runner)
	require.Len(t, o.Runs, 1)
	assert.Equal(t, []any{"6", body.Region("heel_back"), body.Left, "not_yet"}, []any{o.Runs[0].Pain, o.Runs[0].Region, o.Runs[0].Side,
		o.Runs[0].Gone})
	assert.True(t, slices.ContainsFunc(o.Facts().Sore, func(m permit.Mark) bool { return m.Region == "heel_back" && m.Side == body.Left }))
	assert.True(t, slices.ContainsFunc(o.Watched(), func(s body.Symptom) bool { return s.Region == "heel_back" }))

	ph.MustReload()
	press(ph, "^Files of a watch$")
	file := filepath.Join(t.TempDir(), "mine.fit")
	require.NoError(t, os.WriteFile(file, w.ran(2, 1800).FIT(), 0o600))
	ph.MustElement(`input[type=file]`).MustSetFiles(file)
	press(ph, "^Add 1 run$")
	reads(t, ph, "1 run added")
	assert.Len(t, w.chart(runner).Runs, 2)
}

// Two years of a runner, drawn anew: from the press to the second frame after it, milliseconds, as drawn-ms/op.
func BenchmarkStripDrawn(b *testing.B) {
	w := launch(b)
	ids, err := crowd.Make(context.Background(), w.desk.Store, testkit.Admin(b, testkit.LastDatabase()), w.desk.Actor, w.desk.Now(), 1, 104)
	require.NoError(b, err)
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/runners/" + ids[0] + "/load")
	reads(b, p, "13 weeks", "As a table")
	total := 0.
	for b.Loop() {
		total += p.MustEval(`() => new Promise((done) => {
			const button = (name) => [...document.querySelectorAll("button")].find((x) => x.innerText.includes(name));
			button("A week").click();
			requestAnimationFrame(() => requestAnimationFrame(() => {
				const at = performance.now();
				button("Two years").click();
				requestAnimationFrame(() => requestAnimationFrame(() => done(performance.now() - at)));
			}));
		})`).Num()
	}
	reads(b, p, "a week a column")
	b.ReportMetric(total/float64(b.N), "drawn-ms/op")
}

// A table whose headings nobody knows: its columns are chosen in the preview, read so at once, and known the next time.
func TestColumnsChosenInThePreview(t *testing.T) {
	w := start(t)
	runner := w.desk.Runner(t, testkit.Profile())
	day := body.DateOf(w.desk.Now().UTC()).Add(-4)
	file := filepath.Join(t.TempDir(), "liste.csv")
	require.NoError(t, os.WriteFile(file, fmt.Appendf(nil, "wann;wie lange;weit\n%s;42;7,5\n", day.Time().Format("02.01.2006")), 0o600))
	p := w.signedIn()
	for _, known := range []bool{false, true} {
		p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/load")
		reads(t, p, "Or drop files here")
		p.MustElement(`input[type=file]`).MustSetFiles(file)
		if !known {
			reads(t, p, "has no column for the date", "No column was recognised.")
			for label, heading := range map[string]string{"date": "wann", "minutes": "wie lange", "distance": "weit"} {
				field(p, label).MustSelect(heading)
			}
			press(p, "^Read it so$")
		}
		reads(t, p, "1 new", "date: “wann”", "42 min")
		press(p, "^Put it away$")
		reads(t, p, "Or drop files here")
	}
}
