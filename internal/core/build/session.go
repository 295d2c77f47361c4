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
// kept with their doses cut to fit; without any of those the first piece is cut. Small doses count, down to two
// repetitions or five seconds: what would be less is left out for the others.
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
	for {
		out, total := fit(pieces, kept, 60*h.Int("session.short"))
		drop := slices.IndexFunc(kept, func(i int) bool {
			return slices.ContainsFunc(sameRail(pieces, i), func(k int) bool { return tooLittle(out[k], pieces[k].Dose) })
		})
		if drop < 0 && total > 60*h.Int("session.short") {
			drop = len(kept) - 1
		}
		if drop < 0 || len(kept) == 1 {
			return out
		}
		kept = slices.Delete(kept, drop, drop+1)
	}
}

// sameRail lists the pieces of a piece's rail: its sides may stand on different exercises, and belong together.
func sameRail(pieces []Piece, i int) []int {
	out := []int{}
	for k, p := range pieces {
		if p.Rail == pieces[i].Rail {
			out = append(out, k)
		}
	}
	return out
}

// fit cuts the rails of some pieces into so many seconds, shared among them; total is what they take.
func fit(pieces []Piece, kept []int, seconds int) (out map[int]body.Dose, total int) {
	out = map[int]body.Dose{}
	for n, i := range kept {
		same := sameRail(pieces, i)
		share := (seconds - total) / (len(kept) - n) / len(same)
		for _, k := range same {
			out[k] = cut(pieces[k], share)
			total += pieces[k].of(out[k]).Seconds()
		}
	}
	return out, total
}

// tooLittle reports a cut dose that is not worth doing: less than two repetitions or five seconds a set, where more was
// asked.
func tooLittle(d, asked body.Dose) bool {
	least := 2
	if d.Timed() {
		least = 5
	}
	return d.Amount() < min(least, asked.Amount())
}

// of is the piece at another dose.
func (p Piece) of(d body.Dose) Piece { p.Dose = d; return p }

// cut shortens a dose to fit: no extra set, once a day, fewer sets, then less of each.
func cut(p Piece, seconds int) body.Dose {
	d := p.Dose
	fits := func() bool { return p.of(d).Seconds() <= seconds }
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
