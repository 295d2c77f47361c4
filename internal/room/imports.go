package room

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
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
	Name    string       `json:"name"`
	Kind    string       `json:"kind" doc:"FIT, GPX, TCX or CSV; empty where it is none"`
	Bytes   int64        `json:"bytes"`
	Refused string       `json:"refused,omitempty" doc:"why nothing of it can be read"`
	Left    []string     `json:"left" doc:"parts left out, and why"`
	Runs    []ImportRun  `json:"runs"`
	N       int          `json:"n" doc:"number of the file it was sent as"`
	Table   *ImportTable `json:"table,omitempty" doc:"how a CSV was understood"`
}

// ImportTable is how a table of runs was understood; the coach may say otherwise.
type ImportTable struct {
	Header    []string          `json:"header"`
	Columns   map[string]string `json:"columns" doc:"heading of each field that was found"`
	Fields    []string          `json:"fields" doc:"that a column may hold"`
	Separator string            `json:"separator"`
	Encoding  string            `json:"encoding"`
	DayFirst  bool              `json:"dayFirst"`
	Guessed   bool              `json:"guessed" doc:"the file does not tell whether the day or the month comes first"`
}

// ImportRun is a run as it would be stored, and whether it is there already.
type ImportRun struct {
	Key     string    `json:"key" doc:"names it in the confirmation"`
	Run     load.Run  `json:"run"`
	Notes   []string  `json:"notes" doc:"what was noticed while reading"`
	Verdict load.Twin `json:"verdict" enum:"new,same,overlap"`
	Why     string    `json:"why" doc:"what it is the same as, or overlaps with; empty for new"`
}

// ReadFile reads one file of an import and keeps what it tells as part of the preview; sent again it is the same. The file itself
// is not kept.
// columns say how a table is to be read, where the coach chose; it is remembered for tables with that heading.
func (d *Desk) ReadFile(ctx context.Context, a Actor, runner, id string, n int, name string, columns map[string]string, at io.ReaderAt,
	size int64) error {
	for field := range columns {
		if field != runfile.Order && !slices.Contains(runfile.Fields, field) {
			return body.Refuse("columns", "name no field %q; choose among %s", field, strings.Join(runfile.Fields, ", "))
		}
	}
	var zone string
	var known map[string]map[string]string
	err := d.Store.In(ctx, a.Practice, func(tx *store.Tx) (err error) {
		if zone, err = tx.ZoneOf(ctx, runner); err != nil {
			return err
		}
		if known, err = tx.Columns(ctx); err != nil {
			return err
		}
		return tx.BeginImport(ctx, runner, id, a.Coach)
	})
	if err != nil {
		return err
	}
	found := []runfile.Found{}
	runs := 0
	err = runfile.Read(name, at, size, runfile.Options{Zone: location(zone), Now: d.Now(), Columns: columns,
		Recall: func(heading string) map[string]string { return known[heading] }}, func(f runfile.Found) error {
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
		for _, f := range found {
			if f.Table != nil && columns != nil && f.Refused == "" { // what could not be read so is not worth remembering
				if err := tx.KeepColumns(ctx, f.Table.Heading(), columns); err != nil {
					return err
				}
			}
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
	for _, sent := range kept {
		var found []runfile.Found
		if err := json.Unmarshal(sent.Told, &found); err != nil {
			return v, fmt.Errorf("reading the preview: %w", err)
		}
		for m, f := range found {
			file := o.importFile(f, id, sent.N, m)
			for _, r := range file.Runs {
				first = min(first, r.Run.On)
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
			if r.Verdict, r.Why = load.Alike(r.Run, known); r.Verdict == load.New {
				v.New++
				known[r.Run.On] = append(known[r.Run.On], r.Run)
			} else {
				v.There++
			}
		}
	}
	return v, nil
}

// importFile is one file of a preview: the m-th that was found in the n-th that was sent.
func (o Chart) importFile(f runfile.Found, id string, n, m int) ImportFile {
	file := ImportFile{Name: f.Name, Kind: f.Kind, Bytes: f.Size, Refused: f.Refused, Left: append([]string{}, f.Left...),
		Runs: []ImportRun{}, N: n}
	if t := f.Table; t != nil {
		file.Table = &ImportTable{t.Header, t.Columns, runfile.Fields, t.Separator, t.Encoding, t.DayFirst, t.Guessed}
	}
	for k, r := range f.Runs {
		key := fmt.Sprintf("%d.%d.%d", n, m, k)
		run := o.ran(r, f)
		run.ID = uuid.NewSHA1(uuid.MustParse(id), []byte(key)).String()
		notes := append([]string{}, r.Notes...)
		if r.Pain > 0 {
			notes = append(notes, fmt.Sprintf("pain %d is told in the file, not where: ask", r.Pain))
		}
		file.Runs = append(file.Runs, ImportRun{Key: key, Run: run, Notes: notes})
	}
	return file
}

// ran is what a file says of a run in the words of the record, on the day it was where the runner is.
func (o Chart) ran(r runfile.Run, f runfile.Found) load.Run {
	day := r.Start.In(location(o.Timezone))
	out := load.Run{On: body.DateOf(day), Minutes: math.Round(r.Moving*10) / 10, Km: math.Round(r.Km*100) / 100, RPE: r.RPE}
	out.Details = load.Details{Elapsed: math.Round(max(r.Elapsed, r.Moving)*10) / 10, ClimbM: math.Round(r.ClimbM),
		Cadence: math.Round(r.Cadence*10) / 10, Surface: load.SurfaceOf(r.Surface), Kind: load.KindOf(r.Kind), Shoe: r.Shoe,
		ContactMs: math.Round(r.ContactMs), BounceMm: math.Round(r.BounceMm), BalanceL: r.BalanceL,
		File: f.Name, FileBytes: f.Size, FileHash: f.Hash}
	if !r.NoClock {
		out.Start = r.Start.UTC().Format(time.RFC3339)
	}
	if r.Pain >= 0 {
		out.Pain = strconv.Itoa(r.Pain)
	}
	for _, s := range o.Profile.Shoes {
		if strings.EqualFold(s.Name, r.Shoe) {
			out.Shoe = s.Name
		}
	}
	return out
}

// Confirm adds the runs of a preview that are named, all of them or none. Confirming again is the same.
func (d *Desk) Confirm(ctx context.Context, a Actor, runner, id string, take []string) error {
	return d.report(ctx, a, runner, func(tx *store.Tx, o Chart) error {
		v, err := o.preview(ctx, tx, a, id)
		if err != nil || v.State != "preview" {
			return err
		}
		taken := map[string]bool{}
		for _, key := range take {
			taken[key] = true
		}
		runs := []load.Run{}
		for _, f := range v.Files {
			for _, r := range f.Runs {
				if !taken[r.Key] {
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
