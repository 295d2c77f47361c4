package api

import (
	"context"
	"net/http"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/load"
	"notchback/internal/room"
)

type logBody struct {
	Prescription string    `json:"prescription" format:"uuid"`
	On           body.Date `json:"on"`
	Done         []int     `json:"done"`
	RPE          int       `json:"rpe" doc:"-1 when not entered yet"`
	Pain         int       `json:"pain"`
	CrampAt      int       `json:"crampAt,omitempty"`
	Faults       []string  `json:"faults,omitempty"`
	Note         string    `json:"note,omitempty" maxLength:"2000"`
	Times        int       `json:"times,omitempty" minimum:"0" maximum:"20" doc:"how many times that day; 0 once"`
	Short        bool      `json:"short,omitempty" doc:"the short version was shown"`
	Supersedes   string    `json:"supersedes,omitempty" format:"uuid" doc:"log this one corrects"`

	Shown *adjust.Shown `json:"shown,omitempty" doc:"what the runner saw; absent: as the day's dose is computed on arrival"`
}

func (b logBody) entry(id, source string) room.Entry {
	l := adjust.Log{ID: id, On: b.On, Done: b.Done, Times: b.Times, RPE: b.RPE, Pain: b.Pain, CrampAt: b.CrampAt, Faults: b.Faults,
		Note: b.Note, Source: source}
	return room.Entry{Log: l, Prescription: b.Prescription, Supersedes: b.Supersedes, Short: b.Short, Shown: b.Shown}
}

type morningBody struct {
	On        body.Date   `json:"on"`
	Region    body.Region `json:"region"`
	Side      body.Side   `json:"side"`
	Pain      int         `json:"pain"`
	Stiffness int         `json:"stiffness,omitempty"`
	Quiet     bool        `json:"quiet,omitempty" doc:"every other place: not more than usual; has no number"`
}

func (b morningBody) morning(id string) build.Morning {
	if b.Quiet {
		return build.Morning{ID: id, On: b.On, Region: body.WholePerson, Side: body.Both, Quiet: true}
	}
	return build.Morning{ID: id, On: b.On, Region: b.Region, Side: b.Side, Pain: b.Pain, Stiffness: b.Stiffness}
}

type runBody struct {
	On      body.Date    `json:"on"`
	Minutes float64      `json:"minutes,omitempty"`
	Km      float64      `json:"km,omitempty"`
	RPE     int          `json:"rpe,omitempty" doc:"effort 1–10; 0 or −1: not entered"`
	Word    load.Word    `json:"word,omitempty" enum:",usual,none" doc:"instead of a run: the week was as usual, or there was no running"`
	Details load.Details `json:"details,omitempty"`
}

func (b runBody) run(id string) load.Run {
	return load.Run{ID: id, On: b.On, Minutes: b.Minutes, Km: b.Km, RPE: b.RPE, Word: b.Word, Details: b.Details}.Known()
}

type RecordPath struct {
	ID string `path:"id" format:"uuid"`
}

func (s *server) adjusting() {
	look(s, "/api/runners/{runner}/adjust", "adjust", "Rails with their proposals", room.AdjustRoom)
	do(s, http.MethodPut, "/api/runners/{runner}/decisions/{id}", "decide", "Accept a proposal, or decide otherwise with a word why",
		func(ctx context.Context, in *struct {
			RunnerPath
			RecordPath
			Body room.Decision
		}) (nothing, error) {
			return ok(s.desk.Decide(ctx, actor(ctx), in.Runner, in.ID, in.Body))
		})
	do(s, http.MethodPost, "/api/runners/{runner}/decisions", "decide-all", "Accept several proposals in one; ids make it safe to repeat",
		func(ctx context.Context, in *struct {
			RunnerPath
			Body struct {
				Decisions []struct {
					ID string `json:"id" format:"uuid"`
					room.Decision
				} `json:"decisions" minItems:"1" maxItems:"100"`
			}
		}) (room.Decided, error) {
			ids, all := []string{}, []room.Decision{}
			for _, x := range in.Body.Decisions {
				ids, all = append(ids, x.ID), append(all, x.Decision)
			}
			return s.desk.DecideAll(ctx, actor(ctx), in.Runner, ids, all)
		})
	do(s, http.MethodPut, "/api/runners/{runner}/usual/{id}", "raise-usual", "Set the level mornings of a place are judged by",
		func(ctx context.Context, in *struct {
			RunnerPath
			RecordPath
			Body struct {
				Region body.Region `json:"region"`
				Side   body.Side   `json:"side" enum:"left,right"`
				Level  float64     `json:"level" minimum:"0" maximum:"10"`
				Word   string      `json:"word" minLength:"1" maxLength:"500"`
			}
		}) (nothing, error) {
			return ok(s.desk.RaiseUsual(ctx, actor(ctx), in.Runner, build.Usual{Region: in.Body.Region, Side: in.Body.Side, Level: in.Body.Level},
				in.Body.Word))
		})
	do(s, http.MethodPut, "/api/runners/{runner}/logs/{id}", "coach-log", "Enter or correct a session for the runner",
		func(ctx context.Context, in *struct {
			RunnerPath
			RecordPath
			Body logBody
		}) (nothing, error) {
			return ok(s.desk.AddLog(ctx, actor(ctx), in.Runner, in.Body.entry(in.ID, "coach")))
		})
	do(s, http.MethodPut, "/api/runners/{runner}/mornings/{id}", "coach-morning", "Enter a morning for the runner",
		func(ctx context.Context, in *struct {
			RunnerPath
			RecordPath
			Body morningBody
		}) (nothing, error) {
			return ok(s.desk.AddMorning(ctx, actor(ctx), in.Runner, "coach", in.Body.morning(in.ID)))
		})
	do(s, http.MethodPut, "/api/runners/{runner}/runs/{id}", "coach-run", "Enter a run for the runner", func(ctx context.Context, in *struct {
		RunnerPath
		RecordPath
		Supersedes string `query:"supersedes" format:"uuid" doc:"run it corrects"`
		Body       runBody
	}) (nothing, error) {
		return ok(s.desk.AddRun(ctx, actor(ctx), in.Runner, "coach", in.Body.run(in.ID), in.Supersedes))
	})
}
