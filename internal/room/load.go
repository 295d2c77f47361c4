package room

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"

	"notchback/internal/core/body"
	"notchback/internal/core/load"
	"notchback/internal/record"
	"notchback/internal/runfile"
	"notchback/internal/store"
)

// LoadView is what a runner runs: the gauges, the runs of the last weeks and the imports they came by.
type LoadView struct {
	Today   body.Date       `json:"today"`
	State   load.State      `json:"state" enum:"usual,high,unknown"`
	Reason  body.Reason     `json:"reason"`
	Gauges  []load.Gauge    `json:"gauges"`
	Runs    []store.KeptRun `json:"runs" doc:"the newest first, of the last 90 days"`
	Imports []store.Import  `json:"imports" doc:"confirmed and undone, the newest first"`
	Shoes   []ShoeKm        `json:"shoes"`
}

// ShoeKm is how far a shoe was run in: what the intake says and the runs since.
type ShoeKm struct {
	Name string  `json:"name"`
	Km   float64 `json:"km" doc:"of the runs shown"`
}

// LoadOf shows the room Load.
func (d *Desk) LoadOf(ctx context.Context, a Actor, runner string) (v LoadView, err error) {
	err = d.Read(ctx, a, runner, record.NeedReports, func(tx *store.Tx, o Chart) (err error) {
		v = LoadView{Today: o.Today, Gauges: load.Gauges(o.Runs, o.Profile, o.Today, o.House), Shoes: []ShoeKm{}}
		v.State, v.Reason = load.Volume(o.Runs, o.Profile, o.Today, o.House)
		if v.Runs, err = tx.RunsSince(ctx, runner, string(o.Today.Add(-history))); err != nil {
			return err
		}
		for _, r := range v.Runs {
			if r.Shoe == "" || r.Km == 0 {
				continue
			}
			i := slices.IndexFunc(v.Shoes, func(s ShoeKm) bool { return s.Name == r.Shoe })
			if i < 0 {
				i = len(v.Shoes)
				v.Shoes = append(v.Shoes, ShoeKm{Name: r.Shoe})
			}
			v.Shoes[i].Km += r.Km
		}
		v.Imports, err = tx.Imports(ctx, runner)
		return err
	})
	return v, err
}

// ImportView is a preview of run files: what would be added, what is there already, and what cannot be read, file by file.
type ImportView struct {
	ID     string       `json:"id"`
	State  string       `json:"state" enum:"preview,confirmed,undone"`
	Files  []ImportFile `json:"files"`
	New    int          `json:"new" doc:"runs that would be added"`
	There  int          `json:"there" doc:"runs that are there already, or may be"`
	Broken int          `json:"broken" doc:"files of which nothing can be read"`
}

// ImportFile is one file of an import with the runs it tells of.
type ImportFile struct {
	Name    string      `json:"name"`
	Kind    string      `json:"kind" doc:"FIT, GPX, TCX or CSV; empty where it is none"`
	Bytes   int64       `json:"bytes"`
	Refused string      `json:"refused,omitempty" doc:"why nothing of it can be read"`
	Left    []string    `json:"left" doc:"parts left out, and why"`
	Runs    []ImportRun `json:"runs"`
}

// ImportRun is a run as it would be stored, and whether it is there already.
type ImportRun struct {
	Key     string   `json:"key" doc:"names it in the confirmation"`
	Run     load.Run `json:"run"`
	Notes   []string `json:"notes" doc:"what was noticed while reading"`
	Verdict string   `json:"verdict" enum:"new,same,overlap"`
	Why     string   `json:"why" doc:"what it is the same as, or overlaps with; empty for new"`
}

// ReadFile reads one file of an import and keeps what it tells as part of the preview; sent again it is the same. The file itself
// is not kept.
func (d *Desk) ReadFile(ctx context.Context, a Actor, runner, id string, n int, name string, at interface {
	ReadAt([]byte, int64) (int, error)
}, size int64) error {
	var zone string
	err := d.Store.In(ctx, a.Practice, func(tx *store.Tx) (err error) {
		if zone, err = tx.ZoneOf(ctx, runner); err != nil {
			return err
		}
		return tx.BeginImport(ctx, runner, id, a.Coach)
	})
	if err != nil {
		return err
	}
	found := []runfile.Found{}
	runs := 0
	err = runfile.Read(name, at, size, runfile.Options{Zone: location(zone), Now: d.Now()}, func(f runfile.Found) error {
		if runs += len(f.Runs); runs > mostRuns {
			f.Runs, f.Refused = nil, fmt.Sprintf("more than %d runs in one file: send it in parts", mostRuns)
		}
		found = append(found, f)
		return ctx.Err()
	})
	if err != nil {
		return err
	}
	return d.Store.In(ctx, a.Practice, func(tx *store.Tx) error {
		i, err := tx.ImportOf(ctx, runner, id, a.Coach)
		if err != nil {
			return err
		}
		if i.State != "preview" {
			return nil // it was confirmed meanwhile: this is a late repetition
		}
		return tx.KeepFound(ctx, id, n, found)
	})
}

// mostRuns one file may tell of.
const mostRuns = 20_000

// Preview shows what an import would add.
func (d *Desk) Preview(ctx context.Context, a Actor, runner, id string) (v ImportView, err error) {
	err = d.Read(ctx, a, runner, record.NeedFacts, func(tx *store.Tx, o Chart) (err error) { v, err = o.preview(ctx, tx, a, id); return err })
	return v, err
}

func (o Chart) preview(ctx context.Context, tx *store.Tx, a Actor, id string) (ImportView, error) {
	v := ImportView{ID: id, Files: []ImportFile{}}
	i, err := tx.ImportOf(ctx, o.ID, id, a.Coach)
	if err != nil {
		return v, err
	}
	v.State = i.State
	kept, err := tx.FoundIn(ctx, id)
	if err != nil {
		return v, err
	}
	first := o.Today
	for n, text := range kept {
		var found []runfile.Found
		if err := json.Unmarshal(text, &found); err != nil {
			return v, fmt.Errorf("reading the preview: %w", err)
		}
		for m, f := range found {
			file := ImportFile{Name: f.Name, Kind: f.Kind, Bytes: f.Size, Refused: f.Refused, Left: append([]string{}, f.Left...),
				Runs: []ImportRun{}}
			for k, r := range f.Runs {
				key := strconv.Itoa(n) + "." + strconv.Itoa(m) + "." + strconv.Itoa(k)
				run := o.ran(r, f)
				run.ID = uuid.NewSHA1(uuid.MustParse(id), []byte(key)).String()
				first = min(first, run.On)
				file.Runs = append(file.Runs, ImportRun{Key: key, Run: run, Notes: append([]string{}, r.Notes...)})
			}
			if f.Refused != "" {
				v.Broken++
			}
			v.Files = append(v.Files, file)
		}
	}
	there, err := tx.RunsSince(ctx, o.ID, string(first.Add(-2)))
	if err != nil {
		return v, err
	}
	known := map[body.Date][]load.Run{}
	for _, r := range there {
		known[r.On] = append(known[r.On], r.Run)
	}
	for n := range v.Files {
		for k := range v.Files[n].Runs {
			r := &v.Files[n].Runs[k]
			if r.Verdict, r.Why = alike(r.Run, known); r.Verdict == "new" {
				v.New++
				known[r.Run.On] = append(known[r.Run.On], r.Run)
			} else {
				v.There++
			}
		}
	}
	return v, nil
}

// ran is what a file says of a run in the words of the record, on the day it was where the runner is.
func (o Chart) ran(r runfile.Run, f runfile.Found) load.Run {
	day := r.Start.In(location(o.Timezone))
	out := load.Run{On: body.DateOf(day), Minutes: math.Round(r.Moving*10) / 10, Km: math.Round(r.Km*100) / 100, RPE: r.RPE}
	out.Details = load.Details{Elapsed: math.Round(max(r.Elapsed, r.Moving)*10) / 10, ClimbM: math.Round(r.ClimbM),
		Cadence: math.Round(r.Cadence*10) / 10, Surface: surfaceOf(r.Surface), Kind: kindOf(r.Kind), Shoe: r.Shoe,
		ContactMs: math.Round(r.ContactMs), BounceMm: math.Round(r.BounceMm), BalanceL: r.BalanceL,
		File: f.Name, FileBytes: f.Size, FileHash: f.Hash}
	if !r.NoClock {
		out.Start = r.Start.UTC().Format(time.RFC3339)
	}
	if r.Pain >= 0 {
		out.Pain = strconv.Itoa(r.Pain)
	}
	if out.Cadence < 80 || out.Cadence > 260 {
		out.Cadence = 0
	}
	for _, s := range o.Profile.Shoes {
		if strings.EqualFold(s.Name, r.Shoe) {
			out.Shoe = s.Name
		}
	}
	return out
}

// kindOf and surfaceOf find the record's word in what a table says; empty for none.
func kindOf(says string) load.Kind {
	says = strings.ToLower(says)
	for _, k := range []struct {
		kind  load.Kind
		words []string
	}{{load.Race, []string{"race", "wettkampf"}}, {load.Hills, []string{"hill"}}, {load.Long, []string{"long"}},
		{load.Quality, []string{"quality", "interval", "tempo", "fartlek", "threshold", "speed", "track"}},
		{load.Bare, []string{"barefoot", "bare"}}, {load.Gentle, []string{"easy", "recovery", "jog"}}} {
		if slices.ContainsFunc(k.words, func(w string) bool { return strings.Contains(says, w) }) {
			return k.kind
		}
	}
	return ""
}

func surfaceOf(says string) string {
	says = strings.ToLower(says)
	for _, s := range load.Surfaces {
		if strings.Contains(says, s) {
			return s
		}
	}
	return ""
}

// alike says whether a run is there already: the same file's, the same stretch of time, or one entered by hand that day; or
// whether it overlaps with one.
func alike(r load.Run, known map[body.Date][]load.Run) (verdict, why string) {
	verdict = "new"
	for day := -1; day <= 1; day++ {
		for _, k := range known[r.On.Add(day)] {
			if k.Word != "" {
				continue
			}
			near := math.Abs(k.Minutes-r.Minutes) <= max(2, 0.1*r.Minutes)
			words := fmt.Sprintf("a run of %.0f min on %s", k.Minutes, k.On.Short())
			if k.File != "" {
				words += ", from " + k.File
			}
			switch {
			case k.Start == "" || r.Start == "":
				if day == 0 && near {
					return "same", words + ", entered without its time"
				}
				if day == 0 && math.Abs(k.Minutes-r.Minutes) <= 0.25*r.Minutes {
					verdict, why = "overlap", "may be "+words+", entered without its time"
				}
			default:
				from, start := instant(k.Start), instant(r.Start)
				to, end := from.Add(minutes(max(k.Elapsed, k.Minutes))), start.Add(minutes(max(r.Elapsed, r.Minutes)))
				if apart := start.Sub(from).Abs(); apart <= 2*time.Minute && near {
					return "same", words
				}
				if start.Before(to) && from.Before(end) {
					verdict, why = "overlap", "overlaps with "+words
				}
			}
		}
	}
	return verdict, why
}

func instant(s string) time.Time { t, _ := time.Parse(time.RFC3339, s); return t }

func minutes(m float64) time.Duration { return time.Duration(m * float64(time.Minute)) }

// Confirm adds the runs of a preview that are named, all of them or none. Confirming again is the same.
func (d *Desk) Confirm(ctx context.Context, a Actor, runner, id string, take []string) error {
	return d.report(ctx, a, runner, func(tx *store.Tx, o Chart) error {
		v, err := o.preview(ctx, tx, a, id)
		if err != nil || v.State != "preview" {
			return err
		}
		runs := []load.Run{}
		for _, f := range v.Files {
			for _, r := range f.Runs {
				if !slices.Contains(take, r.Key) {
					continue
				}
				if err := r.Run.Check(min(o.Today, r.Run.On.Add(366))); err != nil {
					return body.Refuse("take", "%s, %s: %s", f.Name, r.Run.On.Short(), err)
				}
				runs = append(runs, r.Run)
			}
		}
		if len(runs) == 0 {
			return body.Refuse("take", "names no run of this import: choose at least one, or cancel it")
		}
		return tx.ConfirmImport(ctx, runner, id, runs)
	})
}

// CancelImport forgets a preview.
func (d *Desk) CancelImport(ctx context.Context, a Actor, runner, id string) error {
	return d.Store.In(ctx, a.Practice, func(tx *store.Tx) error {
		if _, err := tx.ImportOf(ctx, runner, id, a.Coach); err != nil {
			return err
		}
		return tx.CancelImport(ctx, id)
	})
}

// UndoImport takes every run of an import out of force.
func (d *Desk) UndoImport(ctx context.Context, a Actor, runner, id string) error {
	return d.report(ctx, a, runner, func(tx *store.Tx, _ Chart) error { return tx.UndoImport(ctx, runner, id) })
}
