package e2e

import (
	"context"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/load"
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
