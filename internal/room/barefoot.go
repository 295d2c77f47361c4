package room

import (
	"slices"

	"notchback/internal/core/adjust"
	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
	"notchback/internal/core/screen"
	"notchback/internal/record"
)

// bareHurts are the goes on bare feet that hurt, and where.
func (o Chart) bareHurts() []permit.Mark {
	out := []permit.Mark{}
	for _, l := range o.BareLogs {
		pain, told := l.Hurt()
		if !told || pain == 0 {
			continue
		}
		m := permit.Mark{Region: l.Region, Side: l.Side, Pain: pain, On: l.On, Seq: l.Seq}
		if m.Region == "" {
			m.Region = body.WholePerson
		}
		if m.Side == "" {
			m.Side = body.Both
		}
		out = append(out, m)
	}
	return out
}

// bareMornings are the mornings day by day, as the transition reads them: the worst place, the most over usual, and calf and sole.
func (o Chart) bareMornings() []barefoot.Morning {
	usual := build.NewUsuals(o.Profile, o.Mornings, o.Usual)
	watched := o.Watched()
	out := []barefoot.Morning{}
	for i := 0; i < len(o.Mornings); {
		on, from := o.Mornings[i].On, i
		day := barefoot.Morning{On: on}
		for ; i < len(o.Mornings) && o.Mornings[i].On == on; i++ {
			m := o.Mornings[i]
			if day.Seq = max(day.Seq, m.Seq); m.Quiet {
				continue
			}
			for _, leg := range body.Sides {
				if !m.Side.Touches(leg) {
					continue
				}
				if over := float64(m.Pain) - usual.At(m.Region, leg, on); over > day.Over || m.Pain > day.Pain {
					day.Where = m.Region.Name() + ", " + string(leg)
					day.Over, day.Pain = max(day.Over, over), max(day.Pain, m.Pain)
				}
			}
			if slices.Contains(calfOrSole, m.Region) {
				day.Sore = max(day.Sore, m.Pain)
			}
		}
		day.All = !slices.ContainsFunc(watched, func(w body.Symptom) bool {
			return !slices.ContainsFunc(o.Mornings[from:i], func(m build.Morning) bool { return m.Answers(w.Region, w.Side) })
		})
		out = append(out, day)
	}
	return out
}

// calfOrSole are the places whose soreness repeats a week.
var calfOrSole = []body.Region{body.Calf, body.Achilles, body.Arch, body.Ball, body.HeelSole}

// Transition is what the transition to bare feet is judged from; nil without one.
func (o Chart) Transition() *barefoot.Records {
	if !o.Barefoot.InForce() {
		return nil
	}
	if o.memo.bare == nil {
		f := o.before()
		r := o.bareRecords(f, o.outlook(f).Weeks())
		o.memo.bare = &r
	}
	return o.memo.bare
}

// bareRecords gathers them, with weeks of running that may be others than those planned.
func (o Chart) bareRecords(f permit.Facts, weeks []load.Week) barefoot.Records {
	r := barefoot.Records{Plan: o.Barefoot, Moves: o.BareMoves, Logs: o.goes(), Mornings: o.bareMornings(), Weeks: weeks, Gate: f.Gate(),
		Closed: f.ClosedBare(), Lead: load.LeadOn(weeks, o.Today), No: o.bareNo(), Races: o.bareRaces(), Rescreened: o.bareGait(),
		Today:  o.Today,
		House:  o.House,
		Strict: o.House.Choice(o.Profile.Approaches, "pain") == "none"}
	r.Allowed, r.Why, r.Opens = f.Bare()
	r.Volume, _ = load.Volume(o.Runs, o.Profile, o.Today, o.House)
	return r
}

// goes are the goes as they were told, and the runs on bare feet, or in the next shoe, of days that tell of no other.
func (o Chart) goes() []barefoot.Log {
	out := slices.Clone(o.BareLogs)
	for _, r := range o.Runs {
		if !o.bareRun(r) || slices.ContainsFunc(o.BareLogs, func(l barefoot.Log) bool { return l.On == r.On && l.Stage >= barefoot.RunWalk }) {
			continue
		}
		out = append(out, barefoot.Log{ID: r.ID, On: r.On, Stage: barefoot.RunWalk, Minutes: r.Minutes, Pain: r.Pain, Region: r.Region,
			Side: r.Side, Seq: r.Seq})
	}
	slices.SortStableFunc(out, func(a, b barefoot.Log) int { return a.On.Sub(b.On) })
	return out
}

// bareRun reports a run on bare feet, or in the next shoe.
func (o Chart) bareRun(r load.Run) bool {
	if o.Barefoot.Aim == barefoot.ThinShoe {
		return r.Word == "" && r.Shoe == o.Barefoot.Shoe
	}
	return r.Word == "" && r.Kind == load.BareRun
}

// BareState is where the transition stands; nil without one.
func (o Chart) BareState() *barefoot.State {
	r := o.Transition()
	if r == nil {
		return nil
	}
	if o.memo.bareState == nil {
		s := r.State()
		o.memo.bareState = &s
	}
	return o.memo.bareState
}

// bareNo is what lets nothing of the barefoot dial move up beside its own rules: a rail that went back of late.
func (o Chart) bareNo() []body.Reason {
	out := []body.Reason{}
	monday := o.Today.Monday()
	if o.Past != nil {
		for _, d := range o.Decisions {
			if rail, _ := o.Catalogue.Find(d.Rail); d.Verdict == adjust.Up && d.On >= monday && rail.ByBeat() {
				out = append(out, o.House.Because("barefoot.dial", "cadence moved this week: bare minutes wait").SeeOn(d.On, rail.Name, "up"))
				break
			}
		}
		for _, d := range slices.Backward(o.Decisions) {
			if (d.Verdict == adjust.Back || d.Verdict == adjust.Park) && o.Today.Sub(d.On) < o.House.Int("adjust.brake.days") {
				out = append(out, o.House.Because("barefoot.brake",
					"a rail went back or was parked within 7 days: nothing of the foot moves up", "adjust.brake.days").SeeOn(d.On, d.Rail, "%s", d.Why))
				break
			}
		}
	}
	return out
}

// bareMoved is the day since a Monday on which bare minutes moved up, or a step to a shoe of another drop began; empty for none.
func (o Chart) bareMoved(monday body.Date) body.Date {
	for _, m := range o.BareMoves {
		if m.Verdict == barefoot.Up && m.On >= monday && m.On <= o.Today {
			return m.On
		}
	}
	if p := o.Barefoot; p.InForce() && p.Aim == barefoot.ThinShoe && p.On >= monday && p.On <= o.Today &&
		barefoot.StepTo(pairOf(o.pairs(), p.From), pairOf(o.pairs(), p.Shoe), o.House).Dial {
		return p.On
	}
	return ""
}

// bareRaces are the days around goal races, this year's, on which nothing moves up.
func (o Chart) bareRaces() []load.Span {
	out := []load.Span{}
	for _, race := range o.Profile.GoalRaces() {
		x := load.Span{}
		for on := race.On.Add(-30); on <= race.On.Add(30); on = on.Add(1) {
			if build.RaceOn(o.Profile, on, o.House) == nil {
				continue
			}
			if x.Until = on; x.From == "" {
				x.From = on
			}
		}
		if x.From != "" && x.Until >= o.Today {
			out = append(out, x)
		}
	}
	return out
}

// bareGait is the newest day the gait was looked at on bare feet: sound, cadence and strike.
func (o Chart) bareGait() body.Date {
	if o.Tests == nil {
		return ""
	}
	seen := map[string]body.Date{}
	for _, t := range o.Trials() {
		if t.Context != nil && t.Context.Shod == "barefoot" && t.Skipped == "" {
			seen[t.Measure] = max(seen[t.Measure], t.On)
		}
	}
	return min(seen[body.GaitSound], seen[body.GaitCadence], seen[body.GaitStrike])
}

// BareView is the room Barefoot.
type BareView struct {
	Today    body.Date                    `json:"today"`
	Items    []barefoot.Item              `json:"items" doc:"the gate: the highest stage that each outcome of an item allows"`
	Gate     barefoot.Gate                `json:"gate"`
	Stages   []barefoot.Stage             `json:"stages" doc:"each in words"`
	Ladder   [][]string                   `json:"ladder" doc:"the steps of each stage before the running, in a few words"`
	New      []barefoot.New               `json:"new" doc:"grounds, in the wet and in the cold, that ask for half the first time"`
	Answers  map[string][]BareAnswer      `json:"answers" doc:"what works on each item, by its id"`
	Approach string                       `json:"approach" enum:"gate,slow,indoors"`
	Plan     *barefoot.Plan               `json:"plan,omitempty"`
	PlanID   string                       `json:"planId"`
	State    *barefoot.State              `json:"state,omitempty"`
	Ahead    *barefoot.Ahead              `json:"ahead,omitempty"`
	Moves    []barefoot.Move              `json:"moves"`
	Logs     []barefoot.Log               `json:"logs" doc:"the newest first"`
	Week     []barefoot.Placed            `json:"week" doc:"the goes of this week"`
	NoRoom   string                       `json:"noRoom" doc:"why nothing found room this week; empty where something did"`
	Shoes    []screen.ShoeIndex           `json:"shoes"`
	Steps    map[string]barefoot.ShoeStep `json:"steps" doc:"from the shoe worn now to each thinner one, by its name"`
	Lead     *load.Lead                   `json:"lead,omitempty"`
	Weekly   int                          `json:"weekly" doc:"minutes of running a week, median of four"`
	Shares   BareShares                   `json:"shares"`
	Compare  []BareCompare                `json:"compare" doc:"the gait in shoes and on bare feet"`
	Cap      int                          `json:"cap" doc:"agreed share unless another is agreed, %"`
	Leads    bool                         `json:"leads" doc:"the barefoot dial leads this week"`
}

// BareAnswer is a rail that works on an item of the gate.
type BareAnswer struct {
	Rail    string `json:"rail"`
	Name    string `json:"name"`
	InForce bool   `json:"inForce" doc:"in the programme"`
}

// BareShares is how much of the running of the last four weeks was on bare feet.
type BareShares struct {
	barefoot.Shared
	Steps     int `json:"steps" doc:"bare steps of each foot; 0 where no cadence is known"`
	CalfSteps int `json:"calfSteps" doc:"as many easy steps for each calf"`
}

// BareCompare is one thing of the gait, in shoes and on bare feet.
type BareCompare struct {
	Measure string `json:"measure"`
	Name    string `json:"name"`
	Side    string `json:"side"`
	Shod    string `json:"shod"`
	Bare    string `json:"bare"`
}

// BareRoom shows it.
var BareRoom = Room[BareView]{record.NeedProposals, always(Chart.bareView)}

func (o Chart) bareView() BareView {
	f := o.before()
	v := BareView{Today: o.Today, Items: barefoot.Items, Stages: barefoot.Stages, Ladder: barefoot.Steps(), New: []barefoot.New{},
		Gate:     f.Gate(),
		Answers:  map[string][]BareAnswer{},
		Approach: o.House.Choice(o.Profile.Approaches, "barefoot"), PlanID: o.BarefootID, Moves: []barefoot.Move{}, Logs: []barefoot.Log{},
		Week: []barefoot.Placed{}, Steps: map[string]barefoot.ShoeStep{}, Shares: o.bareShares(), Compare: o.bareCompare(),
		Cap: o.House.Int("barefoot.cap"), Weekly: barefoot.Weekly(o.RunningWeeks(), o.Today)}
	for _, it := range barefoot.Items {
		v.Answers[it.ID] = []BareAnswer{}
		if it.Limiter == "" {
			continue
		}
		for _, r := range o.Catalogue.Answering(it.Limiter) {
			in := slices.ContainsFunc(o.prescribed(), func(p catalog.Prescription) bool { return p.Rail == r.ID })
			if in || len(v.Answers[it.ID]) < 3 {
				v.Answers[it.ID] = append(v.Answers[it.ID], BareAnswer{r.ID, r.Name, in})
			}
		}
	}
	pairs := o.pairs()
	for _, s := range o.Profile.Shoes {
		v.Shoes = append(v.Shoes, screen.Shoe(s, o.Profile.FootWidthMm, o.Today, o.House))
	}
	v.Shoes = append([]screen.ShoeIndex{}, v.Shoes...)
	if len(pairs) > 0 {
		worn := pairs[0]
		if o.Barefoot.From != "" {
			worn = pairOf(pairs, o.Barefoot.From)
		}
		for _, p := range pairs {
			if p.Name != worn.Name {
				v.Steps[p.Name] = barefoot.StepTo(worn, p, o.House)
			}
		}
	}
	if !o.Barefoot.InForce() {
		return v
	}
	plan := o.Barefoot
	v.Plan, v.State = &plan, o.BareState()
	v.New = barefoot.NewGround(v.State.Dose, o.BareLogs)
	r := *o.Transition()
	lead := r.Lead
	v.Lead, v.Leads = &lead, lead.Dial == load.Barefoot
	r.Weeks = o.bareOutlook(f, nil).Weeks()
	ahead := r.Ahead(0)
	v.Ahead = &ahead
	v.Moves = append(v.Moves, o.BareMoves...)
	v.Logs = append(v.Logs, o.BareLogs...)
	slices.Reverse(v.Logs)
	slices.Reverse(v.Moves)
	v.Week, v.NoRoom = o.BareWeek(o.Today.Monday())
	return v
}

// prescribed are the doses in force.
func (o Chart) prescribed() []catalog.Prescription {
	if o.Plan == nil {
		return nil
	}
	return o.Prescriptions
}

// pairs are the shoes of the intake with their index.
func (o Chart) pairs() []barefoot.Pair {
	out := []barefoot.Pair{}
	for _, s := range o.Profile.Shoes {
		i := screen.MinimalistIndex(s, o.Profile.FootWidthMm)
		out = append(out, barefoot.Pair{Name: s.Name, Index: i.Index, DropMm: i.DropMm, Ratio: i.Ratio})
	}
	return out
}

func pairOf(pairs []barefoot.Pair, name string) barefoot.Pair {
	for _, p := range pairs {
		if p.Name == name {
			return p
		}
	}
	return barefoot.Pair{Name: name, Index: -1}
}

// bareOutlook is the running ahead as far as the transition is reckoned: the barefoot dial leads whenever running does not. grow is a
// growth of running, % a week, instead of the plan's.
func (o Chart) bareOutlook(f permit.Facts, grow *float64) load.Outlook {
	out := o.outlook(f)
	out.Ahead = 104
	out.Want = map[load.Dial]body.Date{load.Barefoot: o.Barefoot.On}
	if grow != nil {
		out.Plan.Rule = load.Rule{From: o.Today.Monday().Add(7), Percent: *grow, EasyEvery: out.Plan.Rule.EasyEvery}
		out.Plan.Weeks = slices.DeleteFunc(slices.Clone(out.Plan.Weeks), func(w load.PlannedWeek) bool { return w.From > o.Today })
	}
	return out
}

// bareShares is the share of the last four weeks.
func (o Chart) bareShares() BareShares {
	out := BareShares{Shared: barefoot.ShareOf(o.BareLogs, o.Runs, o.bareRun, o.Today)}
	c := o.footing().Steps(load.Run{Minutes: out.Minutes, Details: load.Details{Kind: load.BareRun}}, o.House)
	out.Steps, out.CalfSteps = c.Steps/2, c.Calf/2
	return out
}

// bareCompare sets the gait on bare feet beside that in shoes: the newest of each.
func (o Chart) bareCompare() []BareCompare {
	out := []BareCompare{}
	trials := o.Trials()
	read := func(m screen.Measure, side body.Side, bare bool) string {
		mine := slices.DeleteFunc(slices.Clone(trials), func(t screen.Trial) bool {
			return t.Context == nil || t.Context.Tired || (t.Context.Shod == "barefoot") != bare
		})
		newest := body.Date("")
		for _, t := range mine {
			if t.Measure == m.ID && t.Side == side {
				newest = max(newest, t.On)
			}
		}
		mine = slices.DeleteFunc(mine, func(t screen.Trial) bool { return t.On != newest })
		rd, ok := screen.Read(mine, m.ID, side)
		if !ok {
			return ""
		}
		return m.Show(rd.Value)
	}
	for _, id := range []string{body.GaitSound, body.GaitCadence, body.GaitStrike} {
		m, _ := screen.FindMeasure(id)
		for _, side := range m.Sides() {
			row := BareCompare{Measure: id, Name: m.Name, Shod: read(m, side, false), Bare: read(m, side, true)}
			if side != body.Both {
				row.Side = string(side)
			}
			if row.Shod != "" || row.Bare != "" {
				out = append(out, row)
			}
		}
	}
	return out
}
