package room

import (
	"context"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/screen"
	"notchback/internal/store"
)

// Library is the catalogue as the practice uses it.
type Library struct {
	Rails  []LibraryRail    `json:"rails" doc:"in session order, retired ones included"`
	Broken []catalog.Broken `json:"broken" doc:"rails of the practice set aside until they are mended"`
	Kit    []catalog.Gear   `json:"kit"`
	Parts  []catalog.Part   `json:"parts"`
	Names  LibraryNames     `json:"names"`
}

// LibraryNames are the words the library is searched by.
type LibraryNames struct {
	Classes   []catalog.Class `json:"classes"`
	Trainings []string        `json:"trainings"`
	Slots     []catalog.Slot  `json:"slots"`
}

// LibraryRail is one rail with its drawings and what the practice did to it.
type LibraryRail struct {
	Rail     catalog.Rail               `json:"rail"`
	Drawings map[string][]catalog.Shape `json:"drawings" doc:"by exercise"`
	Minutes  [2]int                     `json:"minutes" doc:"shortest and longest session, both sides"`
	For      []string                   `json:"for" doc:"names of the findings it is chosen for; empty: whatever was found"`
	Shipped  bool                       `json:"shipped" doc:"ships with the product"`
	Version  int                        `json:"version" doc:"of the practice's own, 0 as shipped"`
	Coach    string                     `json:"coach" doc:"who changed it last"`
	On       string                     `json:"on"`
}

// Library reads the catalogue with the practice's own rails.
func (d *Desk) Library(ctx context.Context, a Actor) (Library, error) {
	out := Library{Rails: []LibraryRail{}, Broken: []catalog.Broken{}, Kit: catalog.Kit, Parts: catalog.Parts,
		Names: LibraryNames{catalog.Classes, catalog.Trainings, catalog.Slots}}
	err := d.Store.Read(ctx, a.Practice, func(tx *store.Tx) error {
		h, err := tx.House(ctx)
		if err != nil {
			return err
		}
		r, own := rulesOf(h), h.Rails
		out.Broken = append(out.Broken, r.cat.Broken...)
		for _, rail := range r.cat.Rails {
			x := LibraryRail{Rail: rail, Drawings: map[string][]catalog.Shape{}, For: []string{}}
			for _, id := range rail.For {
				m, _ := screen.FindMeasure(id)
				x.For = append(x.For, m.Name)
			}
			_, x.Shipped = catalog.Shipped.Find(rail.ID)
			for _, e := range rail.Exercises {
				if x.Drawings[e.ID], err = e.Drawing(); err != nil {
					return err
				}
				first, last := e.Seconds(e.Ladder[0], len(rail.Sides())), e.Seconds(e.Ladder[len(e.Ladder)-1], len(rail.Sides()))
				if x.Minutes[0] == 0 || first < x.Minutes[0] {
					x.Minutes[0] = first
				}
				x.Minutes[1] = max(x.Minutes[1], last)
			}
			x.Minutes[0], x.Minutes[1] = (x.Minutes[0]+59)/60, (x.Minutes[1]+59)/60
			for _, o := range own {
				if o.ID == rail.ID {
					x.Version, x.Coach, x.On = o.Version, o.Coach, o.On
				}
			}
			out.Rails = append(out.Rails, x)
		}
		return nil
	})
	return out, err
}

// KeepRail adds or changes a rail of the practice, checked against the whole catalogue. saw is the
// version the coach changed; ErrStale when somebody changed it meanwhile.
func (d *Desk) KeepRail(ctx context.Context, a Actor, id string, saw int, rail catalog.Rail) error {
	if rail.ID != id {
		return body.Refuse("id", "is %q, the address says %q", rail.ID, id)
	}
	return d.Store.In(ctx, a.Practice, func(tx *store.Tx) error {
		h, err := tx.House(ctx)
		if err != nil {
			return err
		}
		whole := []catalog.Rail{}
		for _, o := range h.Rails {
			if o.Rail != nil && o.ID != id {
				whole = append(whole, *o.Rail)
			}
		}
		if shipped, ok := catalog.Shipped.Find(id); ok {
			// What a published programme asks is not the practice's to change under its name.
			for _, x := range shipped.Exercises {
				if now, there := rail.Exercise(x.ID); x.Published() && there && !sameDoses(x, now) {
					return body.Refuse("exercises", "“%s” follows %s; copy it under another name to change its doses", x.Name, x.Source)
				}
			}
			for _, x := range shipped.Exercises {
				if _, there := rail.Exercise(x.ID); !there {
					return body.Refuse("exercises", "“%s” is gone; retire it instead, so that who does it now may finish", x.Name)
				}
			}
		}
		if err := catalog.Shipped.With(whole).Add(rail); err != nil {
			return err
		}
		return tx.KeepRail(ctx, id, saw, &rail, a.Coach)
	})
}

func sameDoses(a, b catalog.Exercise) bool {
	if len(a.Doses) != len(b.Doses) || len(a.StageDays) != len(b.StageDays) {
		return false
	}
	for i := range a.Doses {
		if a.Doses[i] != b.Doses[i] || a.StageDays[i] != b.StageDays[i] {
			return false
		}
	}
	return true
}

// TakeBackRail puts the shipped rail in force again. A rail only the practice has is retired instead:
// who does it now keeps its name and may finish.
func (d *Desk) TakeBackRail(ctx context.Context, a Actor, id string, saw int) error {
	if _, ok := catalog.Shipped.Find(id); !ok {
		return body.Refuse("rail", "is the practice's own; retire it instead")
	}
	return d.Store.In(ctx, a.Practice, func(tx *store.Tx) error { return tx.KeepRail(ctx, id, saw, nil, a.Coach) })
}
