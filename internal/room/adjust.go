package room

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"notchback/internal/core/adjust"
	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
	"notchback/internal/record"
	"notchback/internal/store"
)

// AdjustInput gathers what one rail and side is judged by.
func (o Chart) AdjustInput(p catalog.Prescription) adjust.Input {
	rail, _ := o.Catalogue.Find(p.Rail)
	in := adjust.Input{Current: p, Rail: rail, Limits: o.limits(p.Side), Usual: o.Usual, Runs: o.Runs, Profile: o.Profile, Today: o.Today,
		House: o.House, Begun: p.From, Lead: o.lead(), Watched: o.Watched(),
		Logs: o.logsOf(p.Rail), Mornings: o.Mornings, Moves: []adjust.Move{}, Others: []adjust.Move{}}
	for _, d := range o.Decisions {
		m := adjust.Move{On: d.On, Verdict: d.Verdict, Steps: d.Steps, Side: d.Side, Rail: d.Rail, Seen: d.Seen, Rule: d.Rule,
			Alone: d.Coach == "", Heavy: o.heavy(d)}
		switch {
		case holds(d, p.Rail):
			in.Moves = append(in.Moves, m)
			if d.Rail == p.Rail && d.Side == p.Side && d.Coach != "" {
				in.Begun = min(in.Begun, d.On)
			}
		case o.Today.Sub(d.On) <= 28:
			in.Others = append(in.Others, m)
		}
	}
	return in
}

// logsOf are the sessions of a rail, gathered once for a chart.
func (o Chart) logsOf(rail string) []adjust.Log {
	if o.memo.logs == nil {
		o.memo.logs = map[string][]adjust.Log{}
		for _, l := range o.Logs {
			o.memo.logs[l.Prescription.Rail] = append(o.memo.logs[l.Prescription.Rail], l)
		}
	}
	if logs := o.memo.logs[rail]; logs != nil {
		return logs
	}
	return []adjust.Log{}
}

// Watched are the places asked about each morning: those named at intake or in a report of the last weeks,
// and the main places of what is trained hard.
func (o Chart) Watched() []body.Symptom {
	if o.memo.watched == nil {
		o.memo.watched = o.watch()
	}
	return o.memo.watched
}

func (o Chart) watch() []body.Symptom {
	hard := []build.Hard{}
	for _, p := range o.Prescriptions {
		rail, _ := o.Catalogue.Find(p.Rail)
		if x, ok := rail.Exercise(p.Exercise); ok && !p.Parked {
			hard = append(hard, build.Hard{Demand: x.Demand, Side: p.Side})
		}
	}
	if o.Barefoot.InForce() {
		hard = append(hard, build.Hard{Demand: permit.BareAsk(barefoot.Walking).Demand, Side: body.Both})
	}
	return build.WatchedNow(o.Profile, o.hurting(), hard, o.Today)
}

// hurting are the mornings, and the places that hurt while running.
func (o Chart) hurting() []build.Morning {
	out := slices.Clone(o.Mornings)
	for _, r := range o.Runs {
		if pain, at, side := r.Hurt(); pain > 0 {
			out = append(out, build.Morning{On: r.On, Region: at, Side: side, Pain: pain})
		}
	}
	for _, m := range o.bareHurts() {
		out = append(out, build.Morning{On: m.On, Region: m.Region, Side: m.Side, Pain: m.Pain})
	}
	return out
}

// Proposals computes every rail and side of the programme.
func (o Chart) Proposals() []adjust.Proposal {
	if !o.memo.proposed {
		o.memo.proposals, o.memo.proposed = adjust.ProposeAll(o.adjustInputs()), true
	}
	return slices.Clone(o.memo.proposals)
}

func (o Chart) adjustInputs() []adjust.Input {
	ins := []adjust.Input{}
	for _, p := range o.Prescriptions {
		ins = append(ins, o.AdjustInput(p))
	}
	return ins
}

// proposal is the one of a prescription in force.
func (o Chart) proposal(p catalog.Prescription) adjust.Proposal {
	if !o.memo.proposed {
		o.Proposals()
	}
	for i := range o.memo.proposals { // not copied: a day asks for each of them often
		if x := &o.memo.proposals[i]; x.Rail == p.Rail && x.Side == p.Side {
			return *x
		}
	}
	return adjust.Proposal{From: p, To: p, Verdict: adjust.Hold}
}

// RailView is a rail as the Adjust room draws it.
type RailView struct {
	Rail      string            `json:"rail"`
	Name      string            `json:"name"`
	Notches   []catalog.Notch   `json:"notches"`
	Sides     []SideView        `json:"sides"`
	History   []record.Decision `json:"history" doc:"the last ones, oldest first"`
	Decided   int               `json:"decided" doc:"how many there are"`
	Proposals []adjust.Proposal `json:"proposals"`
	Logs      []adjust.Log      `json:"logs" doc:"the newest, and those whose effort is not entered; newest first"`
	Logged    int               `json:"logged" doc:"how many there are of the last weeks"`
	Both      []string          `json:"both" doc:"exercises that train both legs at once: shown once"`
}

// SideView is where one side stands on a rail, and where it would go.
type SideView struct {
	Side         body.Side            `json:"side"`
	Prescription catalog.Prescription `json:"prescription"`
	Text         string               `json:"text"`
	At           int                  `json:"at" doc:"index of its notch"`
	Below        bool                 `json:"below" doc:"smaller than the first notch of its exercise"`
	Asks         bool                 `json:"asks" doc:"whether its proposal wants an answer of the coach"`
	ToText       string               `json:"toText"`
	ToAt         int                  `json:"toAt"`
	Instead      []adjust.Verdict     `json:"instead" enum:"up,hold,return,back,park" doc:"what may be decided instead"`
	Trail        []Tick               `json:"trail" doc:"the last moves, newest first"`
}

// Tick is where an earlier move came to stand.
type Tick struct {
	On body.Date `json:"on"`
	At int       `json:"at"`
}

// VolumeView is how running volume stands.
type VolumeView struct {
	State  load.State  `json:"state"`
	Reason body.Reason `json:"reason"`
}

// shown is how many sessions and decisions of a rail are listed.
const shown = 12

// Rails draws every rail of the programme in force.
func (o Chart) Rails() []RailView {
	out := []RailView{}
	for _, rail := range o.Catalogue.Rails {
		if !slices.ContainsFunc(o.Prescriptions, func(p catalog.Prescription) bool { return p.Rail == rail.ID }) {
			continue
		}
		v := RailView{Rail: rail.ID, Name: rail.Name, Notches: o.Offered(rail, o.phase()), Sides: []SideView{}, History: []record.Decision{},
			Proposals: []adjust.Proposal{}, Logs: []adjust.Log{}, Both: []string{}}
		for _, x := range rail.Exercises {
			if x.Both() || x.Trains == body.NoLeg {
				v.Both = append(v.Both, x.ID)
			}
		}
		for _, p := range o.Prescriptions {
			if p.Rail != rail.ID {
				continue
			}
			pr := o.proposal(p)
			at, below := catalog.At(v.Notches, p.Exercise, p.Dose)
			to, _ := catalog.At(v.Notches, pr.To.Exercise, pr.To.Dose)
			v.Sides = append(v.Sides, SideView{p.Side, p, p.Text(), at, below && p.Dose.Kind != body.RMLoad, pr.Asks(), pr.To.Text(), to,
				adjust.Instead(p), o.trail(v.Notches, p)})
			v.Proposals = append(v.Proposals, pr)
		}
		for _, d := range o.Decisions {
			if d.Rail == rail.ID {
				v.History = append(v.History, d)
			}
		}
		v.Decided = len(v.History)
		v.History = v.History[max(0, v.Decided-shown):]
		logs := o.logsOf(rail.ID)
		v.Logged = len(logs)
		for i := range logs {
			if l := logs[len(logs)-1-i]; i < shown || l.RPE < 0 {
				v.Logs = append(v.Logs, l)
			}
		}
		out = append(out, v)
	}
	return out
}

// AdjustView is the Adjust
type AdjustView struct {
	Today    body.Date       `json:"today"`
	Rails    []RailView      `json:"rails"`
	Volume   VolumeView      `json:"volume"`
	Mornings []build.Morning `json:"mornings" doc:"newest first, up to three weeks"`
	Usual    []build.Usual   `json:"usual"`
	Watched  []Watched       `json:"watched"`
	Lead     *load.Lead      `json:"lead,omitempty" doc:"who leads this week, once a programme is in force"`
	Strip    []MiniWeek      `json:"strip"`
	Notes    []NoteView      `json:"notes" doc:"between runner and coaches, newest first"`
}

// AdjustRoom is where doses move.
var AdjustRoom = Room[AdjustView]{record.NeedProposals, always(Chart.adjustView)}

func (o Chart) adjustView() AdjustView {
	v := AdjustView{Today: o.Today, Rails: o.Rails(), Volume: o.Volume(), Mornings: []build.Morning{},
		Usual: build.NewUsuals(o.Profile, o.Mornings, o.Usual).Rows(o.Today), Watched: o.watchedNames(),
		Strip: o.mini(), Notes: o.notes()}
	v.Lead = o.leading()
	for i := len(o.Mornings) - 1; i >= 0; i-- {
		if o.Today.Sub(o.Mornings[i].On) <= 21 {
			v.Mornings = append(v.Mornings, o.Mornings[i])
		}
	}
	return v
}

// watchedNames are the places that are asked about by name: those of the intake, and those that hurt of late. “Everything
// else quiet” answers the places that are watched for what is trained.
func (o Chart) watchedNames() []Watched {
	out := []Watched{}
	for _, w := range build.WatchedNow(o.Profile, o.hurting(), nil, o.Today) {
		out = append(out, Watched{w.Region, w.Region.Name(), w.Side})
	}
	if o.Barefoot.InForce() { // calf and sole are asked about by name
		for _, r := range []body.Region{body.Calf, body.Arch} {
			if !slices.ContainsFunc(out, func(w Watched) bool { return w.Region == r }) {
				out = append(out, Watched{r, r.Name(), body.Both})
			}
		}
	}
	return out
}

// trail finds the last three moves of a rail and side on its notches.
func (o Chart) trail(notches []catalog.Notch, p catalog.Prescription) []Tick {
	out := []Tick{}
	for _, d := range slices.Backward(o.Decisions) {
		if d.Rail == p.Rail && d.Side == p.Side && d.From != d.To && len(out) < 3 {
			at, _ := catalog.At(notches, d.ToExercise, d.ToDose)
			out = append(out, Tick{d.On, at})
		}
	}
	return out
}

// Volume judges running volume today.
func (o Chart) Volume() VolumeView {
	s, r := load.Volume(o.Runs, o.Profile, o.Today, o.House)
	return VolumeView{s, r}
}

// Decision is what the coach answers to a proposal.
type Decision struct {
	Rail         string         `json:"rail"`
	Side         body.Side      `json:"side"`
	Prescription string         `json:"prescription" format:"uuid" doc:"id of the prescription the coach saw"`
	Verdict      adjust.Verdict `json:"verdict" doc:"what the coach saw proposed, or takes instead"`
	Seen         *int64         `json:"seen,omitempty" doc:"the newest report on the coach's screen; newer ones come first"`
	Word         string         `json:"word" maxLength:"500" doc:"why, when it differs from the proposal"`
}

// Decide accepts or overrides the proposal of today and moves the rail. ErrStale when the
// prescription the coach saw is no longer in force; repeating a decision is the same write.
func (d *Desk) Decide(ctx context.Context, a Actor, runner, id string, x Decision) error {
	return d.Change(ctx, a, runner, record.NeedProposals, func(tx *store.Tx, o Chart) error { return o.DecideIn(ctx, tx, a, id, x) })
}

// Decided is what came of several decisions in one.
type Decided struct {
	Left string `json:"left" doc:"why one of them was not taken any more, and with it those after it; empty: all were"`
}

// DecideAll takes several decisions, one after another, in one write: each is judged as the ones before it left the
// runner. One that is not to be taken any more ends it, and those before it stand; where it is the first it is the error.
func (d *Desk) DecideAll(ctx context.Context, a Actor, runner string, ids []string, all []Decision) (out Decided, err error) {
	err = d.Touch(ctx, a, runner, func(tx *store.Tx) error {
		out = Decided{}
		for i, x := range all {
			o, err := d.Load(ctx, tx, runner, record.NeedProposals)
			if err != nil {
				return err
			}
			if i > 0 {
				if out.Left = o.outOfDate(ids[i], x); out.Left != "" {
					return nil
				}
			}
			if err = o.DecideIn(ctx, tx, a, ids[i], x); err != nil {
				return err
			}
		}
		return nil
	})
	return out, err
}

// outOfDate says why a proposal that was accepted is not what is proposed any more; empty when it is.
func (o Chart) outOfDate(id string, x Decision) string {
	if slices.ContainsFunc(o.Decisions, func(old record.Decision) bool { return old.ID == id }) {
		return ""
	}
	for _, row := range o.Prescriptions {
		if row.Rail != x.Rail || row.Side != x.Side {
			continue
		}
		p := o.proposal(row)
		switch {
		case row.ID != x.Prescription, x.Seen != nil && p.Seen > *x.Seen:
			return "the record changed meanwhile"
		case p.Verdict != x.Verdict && strings.TrimSpace(x.Word) == "":
			return fmt.Sprintf("%s is now %s: %s", o.railName(x.Rail)+", "+sideOf(p), p.Verdict, p.Fired[0].Reason.Says)
		}
	}
	return ""
}

// DecideIn is Decide inside a transaction that has loaded the runner.
func (o Chart) DecideIn(ctx context.Context, tx *store.Tx, a Actor, id string, x Decision) error {
	if slices.ContainsFunc(o.Decisions, func(old record.Decision) bool { return old.ID == id }) {
		return nil
	}
	i := slices.IndexFunc(o.Prescriptions, func(p catalog.Prescription) bool { return p.Rail == x.Rail && p.Side == x.Side })
	if i < 0 || o.Programme == nil {
		return fmt.Errorf("finding the rail: %w", store.ErrNotFound)
	}
	if o.Prescriptions[i].ID != x.Prescription {
		return fmt.Errorf("deciding: %w", store.ErrStale)
	}
	in := adjust.Pair(o.adjustInputs())[i]
	proposal := o.proposal(o.Prescriptions[i])
	if x.Seen != nil && proposal.Seen > *x.Seen {
		return fmt.Errorf("deciding: a newer report came in: %w", store.ErrStale)
	}
	taken := proposal
	if x.Verdict != proposal.Verdict {
		if strings.TrimSpace(x.Word) == "" {
			return body.Refuse("word", "is empty; say in a word why you decide otherwise (proposed: %s)", proposal.Verdict)
		}
		var err error
		if taken, err = adjust.Choose(in, x.Verdict); err != nil {
			return err
		}
	}
	if taken.To.ID == "" {
		taken.To.ID = store.NewID()
	}
	if _, err := tx.AddDecision(ctx, o.ID, store.DecisionRecord{ID: id, Programme: o.Programme.ID, On: o.Today, Proposed: proposal.Verdict,
		Taken: taken,
		Word:  x.Word, Inputs: &in, HouseVersion: o.House.Version, Coach: a.Coach}); err != nil {
		return err
	}
	return o.lowerUsual(ctx, tx)
}

// lowerUsual lets a move lower the usual morning; only the coach raises it.
func (o Chart) lowerUsual(ctx context.Context, tx *store.Tx) error {
	kept := map[string]float64{}
	for _, u := range o.Usual {
		kept[string(u.Region)+string(u.Side)] = u.Level
	}
	for _, now := range build.NewUsuals(o.Profile, o.Mornings, o.Usual).Rows(o.Today.Add(1)) {
		if was, ok := kept[string(now.Region)+string(now.Side)]; !ok || now.Level < was {
			if err := tx.AddUsual(ctx, o.ID, o.Programme.ID, now); err != nil {
				return err
			}
		}
	}
	return nil
}

// RecordHolds records the holds that need no coach as the decisions that saw their reports. They change no
// date, no count and no dose.
func (o Chart) RecordHolds(ctx context.Context, tx *store.Tx) error {
	for _, p := range o.holds() {
		p.To = p.From
		if _, err := tx.AddDecision(ctx, o.ID, store.DecisionRecord{ID: store.NewID(), Programme: o.Programme.ID, On: o.Today,
			Proposed: p.Verdict, Taken: p, HouseVersion: o.House.Version}); err != nil {
			return err
		}
	}
	return nil
}

// holds are those that need no coach and are not recorded yet. One that saw as much is not recorded again: work of both
// legs hears of the other leg's sessions until that leg's own row has decided on them.
func (o Chart) holds() []adjust.Proposal {
	out := []adjust.Proposal{}
	if o.Programme == nil {
		return out
	}
	for _, p := range o.Proposals() {
		recorded := func(d record.Decision) bool {
			return d.Coach == "" && d.Rail == p.Rail && d.Side == p.Side && d.Seen >= p.Seen && d.Verdict == p.Verdict
		}
		if p.Records() && !slices.ContainsFunc(o.Decisions, recorded) {
			out = append(out, p)
		}
	}
	return out
}

// lastScreen is the day of the newest finished screen.
func (o Chart) lastScreen() (body.Date, bool) {
	for _, s := range o.Visits() {
		if s.Finished {
			return s.On, true
		}
	}
	return "", false
}

// sideOf words the side of a proposal.
func sideOf(p adjust.Proposal) string {
	if p.Side == body.Both {
		return "the whole runner"
	}
	return string(p.Side)
}
