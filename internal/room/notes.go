package room

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"notchback/internal/core/body"
	"notchback/internal/record"
	"notchback/internal/store"
)

// MostOfANote is how many letters a note holds.
const MostOfANote = 2000

// skipWords are the reasons an exercise is left out for, as they are read. What hurts is told as pain, not as a reason.
var skipWords = map[string]string{"time": "no time", "kit": "nothing to do it with", "tired": "too tired", "unsure": "not sure how",
	"hard": "too hard"}

// urgentSkips are those a coach answers.
var urgentSkips = []string{"unsure", "hard"}

// AddNote stores what the runner, or a coach, wrote beside a day, and what a session left out.
func (d *Desk) AddNote(ctx context.Context, a Actor, runner, source string, n record.Note) error {
	return d.Change(ctx, a, runner, 0, func(tx *store.Tx, o Chart) error {
		if _, err := o.asOf(source, n.On); err != nil {
			return err
		}
		n.Text, n.Written = plainText(n.Text), o.Today
		switch {
		case !n.On.Valid():
			return body.Refuse("on", "is a day")
		case n.Text == "" && len(n.Skipped) == 0:
			return body.Refuse("text", "is empty; write a word, or leave it")
		case utf8.RuneCountInString(n.Text) > MostOfANote:
			return body.Refuse("text", "has %d letters; write at most %d", utf8.RuneCountInString(n.Text), MostOfANote)
		case len(n.Skipped) > 30:
			return body.Refuse("skipped", "names %d exercises; at most 30", len(n.Skipped))
		}
		for i, s := range n.Skipped {
			if skipWords[s.Why] == "" || len(s.Exercise) > 60 {
				return body.Refuse(fmt.Sprintf("skipped[%d]", i), "gives no reason there is: time, kit, tired, unsure or hard")
			}
		}
		return tx.AddNote(ctx, runner, n, a.Coach)
	})
}

// plainText is a note without what is no letter: control signs and marks that turn the order of letters round.
func plainText(s string) string {
	s = strings.Map(func(r rune) rune {
		if r == '\n' || r == '\t' {
			return r
		}
		if unicode.IsControl(r) || unicode.Is(unicode.Bidi_Control, r) || r == utf8.RuneError {
			return -1
		}
		return r
	}, strings.ReplaceAll(s, "\r\n", "\n"))
	return strings.TrimSpace(s)
}

// ReadNote marks a note as read by the coach.
func (d *Desk) ReadNote(ctx context.Context, a Actor, runner, id string) error {
	return d.Touch(ctx, a, runner, func(tx *store.Tx) error { return tx.ReadNote(ctx, runner, id) })
}

// NoteView is a note as it is read.
type NoteView struct {
	ID      string    `json:"id"`
	On      body.Date `json:"on" doc:"day of the session it is about"`
	Written body.Date `json:"written"`
	By      string    `json:"by" doc:"coach who wrote it; empty: the runner"`
	Text    string    `json:"text" doc:"plain text"`
	Skipped []string  `json:"skipped" doc:"what the session left out, and why"`
	Unread  bool      `json:"unread" doc:"by a coach"`
}

// notes are the notes, the newest first.
func (o Chart) notes() []NoteView {
	out := []NoteView{}
	for _, n := range o.Notes {
		v := NoteView{n.ID, n.On, n.Written, n.By, n.Text, []string{}, o.unread(n)}
		for _, s := range n.Skipped {
			name := s.Exercise
			if _, x, ok := o.Catalogue.Holding(s.Exercise); ok {
				name = x.Name
			}
			v.Skipped = append(v.Skipped, name+": "+skipWords[s.Why])
		}
		out = append(out, v)
	}
	return out
}

// unread reports a note that waits for a coach: what a runner wrote, or did not know how to do, or could not.
func (o Chart) unread(n record.Note) bool {
	asks := slices.ContainsFunc(n.Skipped, func(s record.Skipped) bool { return slices.Contains(urgentSkips, s.Why) })
	return n.By == "" && !n.Read && (n.Text != "" || asks)
}

// queueNotes adds a line for what the runner wrote and nobody has read yet, by its age.
func (o Chart) queueNotes(add adds) {
	var since body.Date
	said, n := "", 0
	for _, v := range o.notes() { // newest first: the oldest speaks
		if !v.Unread {
			continue
		}
		since, said, n = v.Written, v.Text, n+1
		if said == "" {
			said = strings.Join(v.Skipped, "; ")
		}
	}
	if n == 0 {
		return
	}
	said = strings.Join(strings.Fields(said), " ")
	if r := []rune(said); len(r) > 90 {
		said = string(r[:90]) + " …"
	}
	sentence := fmt.Sprintf("Note, unread %s: “%s”", ago(o.Today.Sub(since)), said)
	if n > 1 {
		sentence += fmt.Sprintf(", and %d more", n-1)
	}
	add("note", "adjust", sentence, "Read it, and answer if it asks.",
		o.House.Because("today.note", "the runner wrote something that nobody has read").SeeOn(since, "written", "%d unread", n))
}

func ago(days int) string {
	switch {
	case days <= 0:
		return "since today"
	case days == 1:
		return "for a day"
	}
	return fmt.Sprintf("for %d days", days)
}
