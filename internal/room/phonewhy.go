package room

import (
	"cmp"
	"slices"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
)

// PhoneWhy says in plain words why a dose is what it is: what moved it, and what would move it next.
type PhoneWhy struct {
	Moved []PhoneMove `json:"moved" doc:"the last moves, newest first; empty where it stands as it was placed"`
	Since body.Date   `json:"since" doc:"day the dose stands since"`
	Next  string      `json:"next" doc:"how it stands now"`
	More  string      `json:"more" doc:"what it would become once the coach accepts it; empty for nothing"`
}

// PhoneMove is one move of a dose, as the runner reads it.
type PhoneMove struct {
	On   body.Date `json:"on"`
	Word string    `json:"word" doc:"more, less, less for now, parked, back again or changed"`
	To   string    `json:"to"`
	Why  string    `json:"why" doc:"empty where none was kept"`
}

// mostMoves is how many moves a phone tells of each dose.
const mostMoves = 3

var moveWords = map[adjust.Verdict]string{adjust.Up: "more", adjust.Back: "less", adjust.Park: "parked", adjust.Return: "back again"}

// phoneWhy is told of the first leg of a dose: where both work at once they move together.
func (o Chart) phoneWhy(p catalog.Prescription) PhoneWhy {
	w := PhoneWhy{Moved: []PhoneMove{}, Since: p.From}
	for _, d := range slices.Backward(o.Decisions) {
		if d.Rail != p.Rail || d.Side != p.Side || d.Verdict == adjust.Hold || len(w.Moved) == mostMoves {
			continue
		}
		to := d.ToDose.String()
		if d.ToExercise != p.Exercise {
			_, x, _ := o.Catalogue.Holding(d.ToExercise)
			to = cmp.Or(x.Name, d.ToExercise) + ", " + to
		}
		w.Moved = append(w.Moved, PhoneMove{d.On, cmp.Or(moveWords[d.Verdict], "changed"), to, cmp.Or(d.Word, d.Why)})
	}
	pr := o.proposal(p)
	if len(pr.Fired) > 0 {
		w.Next = pr.Fired[0].Reason.Says
	}
	switch pr.Verdict {
	case adjust.Up:
		w.More = pr.To.Text()
	case adjust.Back, adjust.Park: // it protects already, before a coach has seen it
		w.Moved = slices.Insert(w.Moved, 0, PhoneMove{o.Today, "less for now", pr.InForce().Text(), w.Next})
		w.Next = "your coach looks at it"
	}
	return w
}
