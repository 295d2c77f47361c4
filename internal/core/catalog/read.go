package catalog

import (
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"notchback/internal/core/body"
)

//go:embed rails/*.json
var files embed.FS

// Catalogue is a checked set of rails, in session order, and what was set aside because it is broken.
type Catalogue struct {
	Rails  []Rail
	Broken []Broken
}

// Shipped is the catalogue as it ships.
var Shipped = func() Catalogue {
	c, err := load()
	if err != nil {
		panic("catalog: " + err.Error())
	}
	return c
}()

func load() (Catalogue, error) {
	var all []Rail
	names, err := files.ReadDir("rails")
	if err != nil {
		return Catalogue{}, err
	}
	for _, n := range names {
		data, err := files.ReadFile("rails/" + n.Name())
		if err != nil {
			return Catalogue{}, err
		}
		rails, err := Read(data)
		if err != nil {
			return Catalogue{}, fmt.Errorf("%s: %w", n.Name(), err)
		}
		all = append(all, rails...)
	}
	c := Catalogue{Rails: all}
	return c, c.check()
}

// Read reads rails and sets and checks each rail by itself. A set has items in place of exercises: each becomes a
// rail of its own, and takes from the set what it leaves out.
func Read(data []byte) ([]Rail, error) {
	var all []json.RawMessage
	if err := json.Unmarshal(data, &all); err != nil {
		return nil, fmt.Errorf("the catalogue is not readable: %w", err)
	}
	var rails []Rail
	for _, one := range all {
		var set struct {
			ID    string            `json:"id"`
			Name  string            `json:"name"`
			Items []json.RawMessage `json:"items"`
		}
		if err := json.Unmarshal(one, &set); err != nil {
			return nil, fmt.Errorf("the catalogue is not readable: %w", err)
		}
		whole := len(set.Items) == 0
		if whole {
			set.Items = []json.RawMessage{one}
		}
		for _, item := range set.Items {
			r := Rail{}
			if err := errors.Join(json.Unmarshal(one, &r), json.Unmarshal(item, &r)); err != nil {
				return nil, fmt.Errorf("the rail %s is not readable: %w", set.ID, err)
			}
			if !whole {
				r.Set, r.SetName = set.ID, set.Name
			}
			rails = append(rails, r)
		}
	}
	for i := range rails {
		r, err := rails[i].Complete()
		if err != nil {
			return nil, fmt.Errorf("rail %s: %w", rails[i].ID, err)
		}
		rails[i] = r
	}
	return rails, nil
}

// Broken is a rail of the practice that breaks a rule of the catalogue, and how. Its prescriptions may
// not be done until it is mended.
type Broken struct {
	Rail string `json:"rail"`
	Name string `json:"name"`
	Says string `json:"says"`
}

// With lays a practice's own rails over the shipped ones: one of the same id stands in its place, the
// others follow in their part of the session. Each is checked by itself and in the whole; a broken one
// is set aside and the rest works.
func (c Catalogue) With(own []Rail) Catalogue {
	out := Catalogue{Rails: slices.Clone(c.Rails), Broken: slices.Clone(c.Broken)}
	for _, r := range own {
		next, err := out.add(r)
		if err != nil {
			out.Broken = append(out.Broken, Broken{r.ID, r.Name, err.Error()})
			continue
		}
		out = next
	}
	slices.SortStableFunc(out.Rails, func(a, b Rail) int { return slices.Index(Parts, a.Part) - slices.Index(Parts, b.Part) })
	return out
}

// Add checks one more rail against the whole catalogue; the error names the field and says what to do.
func (c Catalogue) Add(r Rail) error {
	_, err := c.add(r)
	return err
}

func (c Catalogue) add(r Rail) (Catalogue, error) {
	r, err := r.Complete()
	if err != nil {
		return c, err
	}
	r = c.waitsAnew(r)
	r.Own = true
	out := Catalogue{Rails: slices.Clone(c.Rails), Broken: c.Broken}
	// A practice's own version of a list that is a set now stands in the place of its items; of a rail that was split
	// it keeps what it has.
	for _, x := range r.Exercises {
		for i, o := range out.Rails {
			if to, ok := moved[r.ID][x.ID]; ok && to.rail == o.ID && o.ID != r.ID && !o.Own {
				o.Exercises = slices.DeleteFunc(slices.Clone(o.Exercises), func(y Exercise) bool { return y.ID == x.ID })
				out.Rails[i] = o
			}
		}
	}
	out.Rails = slices.DeleteFunc(out.Rails, func(o Rail) bool { return len(o.Exercises) == 0 })
	if i := slices.IndexFunc(out.Rails, func(x Rail) bool { return x.ID == r.ID }); i >= 0 {
		out.Rails[i] = r
	} else {
		out.Rails = append(out.Rails, r)
	}
	return out, out.check()
}

// SetAside says why a rail was set aside; empty when it works.
func (c Catalogue) SetAside(rail string) string {
	if i := slices.IndexFunc(c.Broken, func(b Broken) bool { return b.Rail == rail }); i >= 0 {
		return c.Broken[i].Says
	}
	return ""
}

// Find returns the rail with this id.
func (c Catalogue) Find(rail string) (Rail, bool) {
	for i := range c.Rails { // asked all the time: nothing is copied on the way
		if c.Rails[i].ID == rail {
			return c.Rails[i], true
		}
	}
	return Rail{}, false
}

// NameOf returns an exercise's name; its id when the catalogue no longer has it.
func (c Catalogue) NameOf(rail, exercise string) string {
	r, _ := c.Find(rail)
	if x, ok := r.Exercise(exercise); ok {
		return x.Name
	}
	return exercise
}

// Answering lists the rails that answer a limiter, first choice first; retired ones are left out.
func (c Catalogue) Answering(limiter string) []Rail {
	var at []int
	for i := range c.Rails {
		if c.Rails[i].Answers[limiter] > 0 && !c.Rails[i].Retired {
			at = append(at, i)
		}
	}
	slices.SortStableFunc(at, func(a, b int) int { return c.Rails[a].Answers[limiter] - c.Rails[b].Answers[limiter] })
	out := make([]Rail, len(at))
	for i, k := range at {
		out[i] = c.Rails[k]
	}
	return out
}

// Bringing lists the rails that a word brings in; retired ones are left out.
func (c Catalogue) Bringing(word string) []Rail {
	out := []Rail{}
	for _, r := range c.Rails {
		if slices.Contains(r.With, word) && !r.Retired {
			out = append(out, r)
		}
	}
	return out
}

// Remedies lists the rails that answer a sore place under the chosen approaches, first choice first, with the
// question that decided between them; retired ones are left out.
func (c Catalogue) Remedies(place body.Region, calm bool, chosen func(question string) string) (rails []Rail, question string) {
	rank := map[string]int{}
	for _, r := range c.Rails {
		for _, m := range r.Remedies {
			fits := slices.Contains(m.Places, place) && !r.Retired && (m.Phase == "" || (m.Phase == "calm") == calm)
			for q, options := range m.Only {
				if fits && slices.Contains(options, chosen(q)) {
					question = q
				}
				fits = fits && slices.Contains(options, chosen(q))
			}
			if fits && rank[r.ID] == 0 {
				rank[r.ID] = m.Rank
				rails = append(rails, r)
			}
		}
	}
	slices.SortStableFunc(rails, func(a, b Rail) int { return rank[a.ID] - rank[b.ID] })
	return rails, question
}
