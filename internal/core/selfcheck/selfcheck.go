// Package selfcheck is what a runner checks at home, alone and in a few minutes: what is asked in which order, what may be
// asked of this runner, what the answers come to, and how they moved since the check before. It is compared with itself
// alone: no figure of it enters a finding, a gate or a dose.
package selfcheck

import (
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/permit"
	"notchback/internal/core/screen"
)

// Item is one thing that is checked.
type Item struct {
	ID      string          `json:"id"`
	Measure string          `json:"measure" doc:"what of the screen it is like"`
	Name    string          `json:"name"`
	How     []string        `json:"how"`
	Kind    screen.Kind     `json:"kind"`
	Options []screen.Option `json:"options" doc:"of a class or a score"`
	Unit    string          `json:"unit"`
	Most    float64         `json:"most" doc:"largest figure; a hold stops there"`
	Tries   int             `json:"tries" doc:"how often it is taken, on each side"`
	Running bool            `json:"running" doc:"while running at the usual pace, warmed up"`
	After   string          `json:"after,omitempty" doc:"item that comes first, on the same side"`
	AtLeast float64         `json:"atLeast,omitempty" doc:"what it must come to"`

	sides []body.Side
	about string // what it is, as two of them are told apart
}

// Items are those of the check in the order they are done: running first, warmed up, then what is measured on the spot.
var Items = complete([]Item{
	{ID: "brim", Measure: body.GaitBounce, Name: "Bounce", Running: true, Tries: 1,
		How: []string{"Wear a cap. Run at your usual pace and look at its brim against the horizon.", "How far does it rise and fall?"}},
	{ID: "loose", Measure: body.GaitBounce, Name: "Bounce, ankles loose", Running: true, Tries: 1,
		How: []string{"Again, with loose ankles and quiet feet. Change nothing else.", "And now?"}},
	{ID: "sound", Measure: body.GaitSound, Name: "Sound of landing", Running: true, Tries: 1,
		How: []string{"No music. Listen for ten landings."}},
	{ID: "line", Measure: body.GaitCrossover, Name: "Along a line", Running: true, Tries: 1,
		How: []string{"Run along a painted line, one foot on either side of it.", "Where does each foot land?"}},
	{ID: "cadence", Measure: body.GaitCadence, Name: "Cadence", Running: true, Tries: 4,
		How: []string{"Four times 15 s at your usual pace.", "The first footfall is zero: count every footfall after it, left and right."}},
	{ID: "knee", Measure: body.AnkleKneeToWall, Name: "Knee to wall", Tries: 3,
		How: []string{"Barefoot, foot straight, heel down, knee to the wall over the second toe.",
			"Slide back to the furthest place where the heel still stays down. Tape from toe to wall."}},
	{ID: "heels", Measure: body.WalkHeels, Name: "Walk on the heels", Tries: 1,
		How: []string{"Barefoot, twenty paces on the heels. Stop if it hurts.", "How much did it hurt?"}},
	{ID: "toes", Measure: body.WalkToes, Name: "Walk on the forefeet", Tries: 1,
		How: []string{"Barefoot, twenty paces on the forefeet. Stop if it hurts.", "How much did it hurt?"}},
	{ID: "open", Measure: body.BalanceOpen, Name: "One leg, eyes open", Tries: 1,
		How: []string{"Barefoot beside a wall, hands on hips. Stop when you touch something, or at 45 s."}},
	{ID: "closed", Measure: body.BalanceClosed, Name: "One leg, eyes closed", Tries: 1, After: "open",
		How: []string{"A hand just above a rail or table, nothing around you to fall on. Stop when you touch it or open your eyes."}},
	{ID: "arch", Measure: body.ArchTwoFinger, Name: "Two fingers under the arch", Tries: 1,
		How: []string{"Standing barefoot, weight on both feet, slide two fingertips under the inner arch.", "How much of the tips is hidden?"}},
})

func complete(items []Item) []Item {
	for i := range items {
		it := &items[i]
		m, _ := screen.FindMeasure(it.Measure)
		it.Kind, it.Options, it.Unit, it.Most, it.sides = m.Kind, m.Options, m.Unit, m.Max, m.Sides()
		it.about = "selfcheck." + it.ID
	}
	return items
}

// Find is an item by its id.
func Find(id string) (Item, bool) {
	i := slices.IndexFunc(Items, func(it Item) bool { return it.ID == id })
	if i < 0 {
		return Item{}, false
	}
	return Items[i], true
}

// Sides are those it is taken on.
func (it Item) Sides() []body.Side { return it.sides }

// demand is what it asks of the legs. With nobody beside them the body's weight presses the ankle to the end of its range: that
// is forced, and waits until it is known that nothing pinches in front.
func (it Item) demand() body.Demand {
	m, _ := screen.FindMeasure(it.Measure)
	d := m.Demand()
	if it.Measure == body.AnkleKneeToWall {
		d.Tags = append(slices.Clone(d.Tags), body.Forced)
	}
	return d
}

// Offer is an item as a runner is asked it today.
type Offer struct {
	Item
	Sides []Side   `json:"sides"`
	Mind  []string `json:"mind" doc:"what this runner minds while doing it"`
}

// Side is a side of an item, and whether it may be taken there.
type Side struct {
	Side  body.Side `json:"side"`
	May   bool      `json:"may"`
	Why   string    `json:"why" doc:"why it may not; empty where it may"`
	Opens string    `json:"opens" doc:"what would open it"`
}

// Offers asks for each item and side whether it may be done alone at home today. trials are the coach's newest: eyes closed
// asks for eyes open there, and again in the check itself. What is done beside a coach within arm's reach asks less.
func Offers(c screen.Circumstances, trials []screen.Trial, h house.Rules) []Offer {
	out := []Offer{}
	if c.Cuts == nil {
		c.Cuts = c.Facts.Cuts()
	}
	for _, it := range Items {
		o := Offer{Item: it, Sides: []Side{}, Mind: []string{}}
		if it.After != "" {
			o.AtLeast = h.Get("balance.steady")
		}
		m, _ := screen.FindMeasure(it.Measure)
		for _, side := range it.sides {
			s := Side{Side: side, May: true}
			alone := c.Facts.Judge(c.Cuts, permit.Ask{Demand: it.demand(), Side: side})
			if no, why := screen.Barred(m, side, trials, c, h); no {
				s.May, s.Why = false, why.Says
			}
			if !alone.May() {
				s.May, s.Why, s.Opens = false, alone.Reasons[0].Says, alone.Reasons[0].Opens
			}
			for _, n := range alone.Notes {
				if !slices.Contains(o.Mind, n) {
					o.Mind = append(o.Mind, n)
				}
			}
			o.Sides = append(o.Sides, s)
		}
		out = append(out, o)
	}
	return out
}
