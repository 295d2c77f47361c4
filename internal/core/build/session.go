package build

import (
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
)

// Piece is one exercise of a session at the dose of its longer side.
type Piece struct {
	Rail     string
	Exercise catalog.Exercise
	Dose     body.Dose
	Sides    int // sides it is done on one after the other
}

// Seconds is what the piece takes.
func (p Piece) Seconds() int { return p.Exercise.Seconds(p.Dose, p.Sides) }

// Short picks the version of a session for a day with only a few minutes: one release, one range, one
// control; where the sore heel is released first, two releases. It returns the indexes of the pieces
// kept with their doses cut to fit; without any of those the first piece is cut. Small doses count.
func Short(pieces []Piece, p body.Profile, h house.Rules) map[int]body.Dose {
	want := []catalog.Class{catalog.Releasing, catalog.Range, catalog.Control}
	if h.Choice(p.Approaches, "sore_heel") == "release" {
		want = []catalog.Class{catalog.Releasing, catalog.Releasing}
	}
	var kept []int
	for _, c := range want {
		i := slices.IndexFunc(pieces, func(x Piece) bool {
			return x.Exercise.Class == c && !slices.ContainsFunc(kept, func(k int) bool { return pieces[k].Rail == x.Rail })
		})
		if i >= 0 {
			kept = append(kept, i)
		}
	}
	if len(kept) == 0 && len(pieces) > 0 {
		kept = []int{0}
	}
	out := map[int]body.Dose{}
	left := 60 * h.Int("session.short")
	for n, i := range kept {
		// The sides of a rail may stand on different exercises: they belong together.
		same := []int{}
		for k, p := range pieces {
			if p.Rail == pieces[i].Rail {
				same = append(same, k)
			}
		}
		share := left / (len(kept) - n)
		for _, k := range same {
			out[k] = cut(pieces[k], share/len(same))
			left -= Piece{Exercise: pieces[k].Exercise, Dose: out[k], Sides: pieces[k].Sides}.Seconds()
		}
	}
	return out
}

// cut shortens a dose to fit: no extra set, once a day, fewer sets, then less of each.
func cut(p Piece, seconds int) body.Dose {
	d := p.Dose
	fits := func() bool { return (Piece{Exercise: p.Exercise, Dose: d, Sides: p.Sides}).Seconds() <= seconds }
	if !fits() {
		d.Extra, d.PerDay = 0, 0
	}
	for d.Sets > 1 && !fits() {
		d.Sets--
	}
	for d.Amount() > 1 && !fits() {
		d = d.WithAmount(max(1, d.Amount()*9/10))
	}
	return d
}
