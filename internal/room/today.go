package room

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/house"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
)

// QueueItem is one line of the desk queue.
type QueueItem struct {
	Runner   string      `json:"runner"`
	Name     string      `json:"name"`
	Kind     LineKind    `json:"kind"`
	Sentence string      `json:"sentence"`
	Detail   string      `json:"detail" doc:"old dose → new dose, or what to do"`
	Step     string      `json:"step" enum:"intake,screen,read,build,week,adjust,barefoot,retest" doc:"step of the job it opens"`
	Accepts  []Accept    `json:"accepts" doc:"what Accept decides; empty when there is nothing to accept"`
	Reason   body.Reason `json:"reason"`
}

// Accept is one decision that Accept takes.
type Accept struct {
	Rail         string         `json:"rail"`
	Side         body.Side      `json:"side"`
	Prescription string         `json:"prescription" doc:"the one the line was made from"`
	Verdict      adjust.Verdict `json:"verdict" enum:"up,hold,return,back,park"`
	Seen         int64          `json:"seen" doc:"newest report the line was made from"`
}

// LineKind is why a runner stands in the queue.
type LineKind string

// LineKinds are those there are.
var LineKinds = slices.Sorted(maps.Keys(urgency))

// urgency orders the kinds of lines.
var urgency = map[LineKind]int{"broken": 120, "computing": 110, "stop": 100, "pause": 95, "selfpain": 92, "park": 90, "back": 80,
	"quiet": 60, "return": 50, "note": 45, "selfcheck": 42, "up": 40, "calm_over": 38, "room": 35, "hold": 30, "ask": 25, "retest": 20,
	"form": 18, "start": 15, "pending": 10}

// Today lists what the practice's runners need today, most urgent first. A runner whose line is being computed says so.
func (d *Desk) Today(ctx context.Context, a Actor) ([]QueueItem, error) {
	all, err := d.standings(ctx, a, false)
	if err != nil {
		return nil, err
	}
	out := []QueueItem{}
	for _, s := range all {
		lines := []QueueItem{{Kind: "computing", Step: "intake", Sentence: "Being worked out",
			Detail: "Something changed; it stands here in a moment.", Accepts: []Accept{},
			Reason: house.Rules{}.Because("today.computing", "what stands of the runner is being computed")}}
		switch {
		case s.now != nil:
			lines = s.now.Lines
		case s.failed:
			lines[0].Kind, lines[0].Sentence = "broken", "Could not be worked out"
			lines[0].Detail = "What was reported may be missing here. Open the runner; if that fails too, tell whoever runs the server."
			lines[0].Reason.Says = "what stands of the runner could not be computed; it is tried again each minute"
		}
		for _, l := range lines {
			l.Runner, l.Name = s.Runner, s.Name
			out = append(out, l)
		}
	}
	slices.SortStableFunc(out, func(a, b QueueItem) int {
		return cmp.Or(cmp.Compare(urgency[b.Kind], urgency[a.Kind]), cmp.Compare(a.Name, b.Name))
	})
	return out, nil
}

func (o Chart) queue() (out []QueueItem) {
	add := func(kind LineKind, step, sentence, detail string, r body.Reason, ps ...adjust.Proposal) {
		line := QueueItem{Kind: kind, Step: step, Sentence: sentence, Detail: detail, Reason: r, Accepts: []Accept{}}
		for _, p := range ps {
			line.Accepts = append(line.Accepts, Accept{p.Rail, p.Side, p.From.ID, p.Verdict, p.Seen})
		}
		out = append(out, line)
	}
	for _, s := range o.Stops {
		if s.Open() {
			sign, _ := refer.FindSign(s.Sign)
			r := o.House.Because("today.stop", "a warning sign is open").SeeOn(s.On, sign.Question, "yes, %s, %s", s.Region.Name(), s.Side)
			place := s.Region.Name()
			if s.Side != body.Both {
				place = string(s.Side) + " " + place
			}
			add("stop", "intake", fmt.Sprintf("Warning sign, %s: %s", place, strings.ToLower(strings.TrimSuffix(sign.Question, "?"))), sign.Do, r)
		}
	}
	if len(o.Forms) > 0 {
		on := o.Forms[0].On
		add("form", "intake", "Filled in the intake form", "Read it and take it over.",
			o.House.Because("today.form", "the runner's own form waits").SeeOn(on, "form", "sent"))
	}
	o.queueNotes(add)
	o.queueSelfChecks(add)
	if o.Programme == nil {
		o.queueBare(add)
		if len(o.Visits()) == 0 {
			add("start", "screen", "New: not screened yet", "Start the screen.",
				o.House.Because("today.start", "a runner without a screen").See("screens", "none"))
		} else {
			add("start", "read", "Screened, no programme yet", "Read the findings and build.",
				o.House.Because("today.start", "a screen without a programme").See("screens", "%d", len(o.Visits())))
		}
		return out
	}
	o.queuePermit(add)
	o.queueMoves(add)
	o.queueBare(add)
	for _, r := range o.noRoom() {
		add("room", "week", r.Says, "The next sessions are left out; move them or build again.", r)
	}
	o.queueQuiet(add)
	if o.Programme.Plan.Phase == build.Calm {
		if calm, r := build.InCalm(o.Profile, o.Mornings, o.Today, o.House); !calm {
			add("calm_over", "build", "Calm is over: mornings are quiet", "Build again to bring calf work in.", r)
		}
	}
	o.queueRetest(add)
	return out
}

// adds puts a line into the queue.
type adds = func(kind LineKind, step, sentence, detail string, r body.Reason, ps ...adjust.Proposal)

func (o Chart) queueQuiet(add adds) {
	quiet := o.House.Int("queue.quiet")
	heard := o.Programme.On
	for _, l := range o.Logs {
		heard = max(heard, l.On)
	}
	for _, m := range o.Mornings {
		heard = max(heard, m.On)
	}
	for _, r := range o.Runs {
		heard = max(heard, r.On)
	}
	if n := o.Today.Sub(heard); n >= quiet {
		add("quiet", "adjust", fmt.Sprintf("Quiet for %d days", n), "Ask how it goes; last heard "+heard.Short()+".",
			o.House.Because("today.quiet", "nothing reported for a while", "queue.quiet").SeeOn(heard, "last report", "%d days ago", n))
	}
}

func (o Chart) queueRetest(add adds) {
	if waits := o.waitsForTest(); len(waits) > 0 {
		sentence := strings.Join(waits[:min(2, len(waits))], "; ")
		if more := len(waits) - 2; more > 0 {
			sentence += fmt.Sprintf("; %d more", more)
		}
		add("retest", "screen", sentence+": parked until tested again", "Retest, then build: the new test places them.",
			o.House.Because("today.parked", "a rail that was missed for four weeks, or stood through a grave warning sign, comes back "+
				"by a new test").See("parked", "%s", strings.Join(waits, "; ")))
	} else if since, n := o.RetestDue(); n > 0 {
		last, _ := o.lastScreen()
		add("retest", "screen", fmt.Sprintf("Retest due since %s", since.Short()), fmt.Sprintf("%d measures; last screen %s.", n, last.Short()),
			o.House.Because("today.retest", "retest due", "retest.days", "retest.strength.days").SeeOn(since, "due", "%d measures", n))
	}
}

// waitsForTest names the rails that come back by a new test alone; none while a sign is open.
func (o Chart) waitsForTest() []string {
	var out []string
	for _, p := range o.Proposals() {
		name := o.railName(p.Rail)
		if !p.Retest {
			continue
		}
		if both := name + ", both sides"; len(out) > 0 && out[len(out)-1] == name+", "+string(body.Left) && p.Side == body.Right {
			out[len(out)-1] = both
			continue
		}
		out = append(out, name+", "+sideOf(p))
	}
	return out
}

// queuePermit adds what the coach does before work may go on: speak with a runner who hurt much, record
// limits that are missing, ask what could hurt.
func (o Chart) queuePermit(add adds) {
	p := o.Permissions()
	if n := len(p.Pauses); n > 0 {
		worst := slices.MaxFunc(p.Pauses, func(a, b permit.Mark) int { return cmp.Or(a.Pain-b.Pain, a.On.Sub(b.On)) })
		add("pause", "intake", fmt.Sprintf("Speak with them: pain of %d of 10, %s", worst.Pain, worst.Region.Name()),
			"One-leg work, bouncing, more and faster running wait until you spoke and asked the warning signs.",
			o.House.Because("today.pause", "pain this high is talked over first", "adjust.pain.back2", "adjust.morning.pause").SeeOn(worst.On,
				worst.Region.Name()+", "+string(worst.Side), "%d of 10", worst.Pain))
	}
	if len(p.Unknown) > 0 {
		var says []string
		for _, u := range p.Unknown {
			says = append(says, u.Says)
		}
		add("ask", "read", "To ask first: "+strings.Join(says, "; "), "Answered at intake or in a retest; what could hurt waits until then.",
			o.House.Because("today.ask", "what could hurt and is not known is asked first").See("not known", "%s", strings.Join(says, "; ")))
	}
}

// queueMoves adds a line for what the rails with news ask for: rails and sides that ask for the same by
// the same rule stand in one line, and are accepted together.
func (o Chart) queueMoves(add adds) {
	var groups [][]adjust.Proposal
	for _, p := range o.Proposals() {
		rule := p.Fired[0].Reason.Rule
		if !p.News || !p.Asks() && p.Verdict != adjust.Pending { // a hold that needs no coach
			continue
		}
		if rule == "adjust.warning-sign" && p.From.Parked {
			continue
		}
		i := slices.IndexFunc(groups, func(g []adjust.Proposal) bool {
			return g[0].Verdict == p.Verdict && g[0].Steps == p.Steps && g[0].Fired[0].Reason.Rule == rule
		})
		if i < 0 {
			groups = append(groups, []adjust.Proposal{p})
			continue
		}
		groups[i] = append(groups[i], p)
	}
	for _, g := range groups {
		sentence, detail := o.asks(g)
		if g[0].Verdict == adjust.Pending {
			add("pending", "adjust", sentence, detail, g[0].Fired[0].Reason)
			continue
		}
		add(LineKind(g[0].Verdict), "adjust", sentence, detail, g[0].Fired[0].Reason, g...)
	}
}

// asks words a group of proposals: the rails and sides, the rule's words, and what each dose becomes; two
// sides of a rail that do the same are said once.
func (o Chart) asks(g []adjust.Proposal) (sentence, detail string) {
	var names, changes []string
	for i, p := range g {
		name := o.railName(p.Rail)
		change := p.From.Text() + " → " + p.To.Text()
		if p.To.Text() == p.From.Text() {
			change = "stays at " + p.From.Text()
		}
		if i > 0 && g[i-1].Rail == p.Rail {
			names[len(names)-1] = name + ", both sides"
			if g[i-1].From.Text() == p.From.Text() && g[i-1].To.Text() == p.To.Text() {
				continue
			}
		} else {
			names = append(names, name+", "+sideOf(p))
		}
		changes = append(changes, change)
	}
	if more := len(names) - 2; more > 0 {
		names = append(names[:2], fmt.Sprintf("%d more", more))
	}
	if more := len(changes) - 2; more > 0 {
		changes = append(changes[:2], fmt.Sprintf("%d more", more))
	}
	return fmt.Sprintf("%s: %s", strings.Join(names, "; "), g[0].Fired[0].Reason.Says), strings.Join(changes, "; ")
}

func (o Chart) railName(id string) string {
	for _, r := range o.Programme.Plan.Rails {
		if r.Rail == id {
			return r.Name
		}
	}
	return id
}
