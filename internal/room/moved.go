package room

import (
	"slices"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/record"
)

// moved reads a record through the table of what went where since it was written: a row of a list that is a set now
// belongs to the item its exercise is; a park and a back hold for all that the list became.
type moved struct {
	cat catalog.Catalogue
	to  map[string][]string // the rails that the rows of an earlier rail stand on now
}

func (m moved) record(c record.Record) record.Record {
	m.to = map[string][]string{}
	if c.Plan != nil {
		c.Plan = m.inForce(*c.Plan)
	}
	if c.Reports != nil {
		r := *c.Reports
		for i := range r.Logs { // what was done stays counted against what was shown
			p := &r.Logs[i].Prescription
			p.Rail, p.Exercise = m.cat.Successor(p.Rail, p.Exercise)
		}
		r.Mornings = apart(r.Mornings, func(x *build.Morning) *body.Region { return &x.Region })
		c.Reports = &r
	}
	if c.Past != nil {
		for i, d := range c.Decisions {
			now := m.row(catalog.Prescription{Rail: d.Rail, Exercise: d.ToExercise, Dose: d.ToDose})
			to := &c.Decisions[i]
			to.Rail, to.ToExercise, to.ToDose, to.Also = now.Rail, now.Exercise, now.Dose, m.cat.Beside(d.Rail, d.ToExercise)
		}
	}
	return c
}

// inForce is the programme with its rows, days and weeks.
func (m moved) inForce(p record.Plan) *record.Plan {
	beside := append(m.parked(p.Prescriptions), m.parked(p.Rested)...)
	p.Prescriptions, p.Rested = m.rows(p.Prescriptions), m.rows(append(slices.Clone(p.Rested), beside...))
	p.Rested = slices.DeleteFunc(p.Rested, func(r catalog.Prescription) bool {
		return slices.ContainsFunc(p.Prescriptions, func(o catalog.Prescription) bool { return o.Rail == r.Rail && o.Side == r.Side })
	})
	days := p.Days
	p.Days = make([]record.TrainingDay, 0, len(days))
	for _, d := range days {
		for _, rail := range m.rails(d.Rail) {
			d.Rail = rail
			p.Days = append(p.Days, d)
		}
	}
	if p.Programme != nil {
		now := *p.Programme
		now.Plan = m.plan(now.Plan)
		p.Programme = &now
	}
	for i := range p.Weeks {
		p.Weeks[i].Week = m.week(p.Weeks[i].Week)
	}
	p.Usual = apart(p.Usual, func(x *build.Usual) *body.Region { return &x.Region })
	return &p
}

// apart reads what was recorded of the whole heel as said of both its places.
func apart[T any](all []T, region func(*T) *body.Region) []T {
	out := make([]T, 0, len(all))
	for _, x := range all {
		for _, place := range region(&x).Places() {
			*region(&x) = place
			out = append(out, x)
		}
	}
	return out
}

func (m moved) row(p catalog.Prescription) catalog.Prescription { return m.cat.Now(p) }

// rows are the prescriptions where they stand now: of two of one rail and side the later set, which was written since.
func (m moved) rows(ps []catalog.Prescription) []catalog.Prescription {
	out := []catalog.Prescription{}
	add := func(p catalog.Prescription) {
		i := slices.IndexFunc(out, func(o catalog.Prescription) bool { return o.Rail == p.Rail && o.Side == p.Side })
		switch {
		case i < 0:
			out = append(out, p)
		case p.Set.After(out[i].Set):
			out[i] = p
		}
	}
	for _, was := range ps {
		p := m.row(was)
		if !slices.Contains(m.to[was.Rail], p.Rail) {
			m.to[was.Rail] = append(m.to[was.Rail], p.Rail)
		}
		add(p)
	}
	return out
}

// parked are rows of the other items that the list of a parked row became: brought in, they are parked too.
func (m moved) parked(ps []catalog.Prescription) []catalog.Prescription {
	out := []catalog.Prescription{}
	for _, was := range ps {
		for _, id := range m.cat.Beside(was.Rail, was.Exercise) {
			rail, ok := m.cat.Find(id)
			if to, _ := m.cat.Successor(was.Rail, was.Exercise); !ok || !was.Parked || id == to || len(rail.Exercises) == 0 {
				continue
			}
			p := was
			x := rail.Exercises[0]
			p.ID, p.Rail, p.Exercise, p.Name, p.Dose = "", id, x.ID, x.Name, x.Ladder[0]
			out = append(out, p)
		}
	}
	return out
}

// rails is where the rows of a rail stand now; the first it became where it has none.
func (m moved) rails(rail string) []string {
	if to := m.to[rail]; len(to) > 0 {
		return to
	}
	if to := m.cat.Successors(rail); len(to) > 0 {
		return to[:1]
	}
	return []string{rail}
}

func (m moved) plan(p build.Programme) build.Programme {
	rails := p.Rails
	p.Rails = make([]build.RailPlan, 0, len(rails))
	for _, r := range rails {
		rows := make([]catalog.Prescription, len(r.Prescriptions))
		to := m.cat.Successors(r.Rail)
		if len(to) == 0 {
			to = append(to, r.Rail)
		}
		for i, was := range r.Prescriptions {
			if rows[i] = m.row(was); !slices.Contains(to, rows[i].Rail) {
				to = append(to, rows[i].Rail)
			}
		}
		for _, id := range to {
			one := r
			one.Prescriptions, one.Doses, one.Placed = []catalog.Prescription{}, []string{}, nil
			if one.Rail = id; id != r.Rail {
				rail, _ := m.cat.Find(id)
				one.Name = rail.Name
			}
			for i, row := range rows {
				if row.Rail == id {
					one.Prescriptions = append(one.Prescriptions, row)
					one.Doses = append(one.Doses, row.Dose.String())
					if k := len(r.Placed) - len(rows) + i; k >= 0 {
						one.Placed = append(one.Placed, r.Placed[k])
					}
				}
			}
			// A rail chosen without a row of its own stays as it was written.
			if one.Chosen = r.Chosen && len(one.Prescriptions) > 0; len(to) == 1 && id == r.Rail {
				one.Chosen, one.Placed = r.Chosen, r.Placed
				if len(rows) == 0 {
					one.Prescriptions, one.Doses = r.Prescriptions, r.Doses
				}
			}
			p.Rails = append(p.Rails, one)
		}
	}
	p.Week, p.Choices = m.week(p.Week), m.choices(p.Choices)
	return p
}

func (m moved) week(w build.Week) build.Week {
	w.Days = slices.Clone(w.Days)
	for d := range w.Days {
		entries := w.Days[d].Entries
		w.Days[d].Entries = make([]build.Entry, 0, len(entries))
		for _, e := range entries {
			for _, rail := range m.rails(e.Rail) {
				e.Rail = rail
				w.Days[d].Entries = append(w.Days[d].Entries, e)
			}
		}
	}
	return w
}

func (m moved) choices(c build.Choices) build.Choices {
	every := func(ids []string, of func(string) []string) []string {
		out := make([]string, 0, len(ids))
		for _, id := range ids {
			out = append(out, of(id)...)
		}
		return out
	}
	c.Without = every(c.Without, func(id string) []string {
		if all := m.cat.Successors(id); len(all) > 0 {
			return all
		}
		return []string{id}
	})
	c.Also = every(c.Also, m.rails)
	c.Notches = slices.Clone(c.Notches)
	for i, n := range c.Notches {
		now := m.cat.Now(catalog.Prescription{Rail: n.Rail, Exercise: n.Exercise, Dose: n.Dose})
		c.Notches[i].Rail, c.Notches[i].Exercise, c.Notches[i].Dose = now.Rail, now.Exercise, now.Dose
	}
	sessions := c.Sessions
	c.Sessions = make([]build.PinnedPlace, 0, len(sessions))
	for _, s := range sessions {
		for _, rail := range m.rails(s.Rail) {
			s.Rail = rail
			c.Sessions = append(c.Sessions, s)
		}
	}
	if len(c.Why) > 0 {
		why := map[string]string{}
		for id, w := range c.Why {
			for _, rail := range m.rails(id) {
				why[rail] = w
			}
		}
		c.Why = why
	}
	return c
}

// holds reports a decision that speaks of a rail: its own, or a park or a back of the list it was an item of.
func holds(d record.Decision, rail string) bool {
	return d.Rail == rail || (d.Verdict == adjust.Park || d.Verdict == adjust.Back) && slices.Contains(d.Also, rail)
}
