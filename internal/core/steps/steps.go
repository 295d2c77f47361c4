// Package steps names the steps of the job with a runner, in their order, and says how each stands.
package steps

// ID names a step.
type ID string

// The steps.
const (
	Intake ID = "intake"
	Screen ID = "screen"
	Gait   ID = "gait"
	Read   ID = "read"
	Build  ID = "build"
	Week   ID = "week"
	Load   ID = "load"
	Adjust ID = "adjust"
	Bare   ID = "barefoot"
	Retest ID = "retest"
)

// Step is one step of the job.
type Step struct {
	ID   ID     `json:"id"`
	Name string `json:"name"`
}

// All lists the steps in the order of the job.
var All = []Step{
	{Intake, "Intake"}, {Screen, "Screen"}, {Gait, "Gait"}, {Read, "Read"}, {Build, "Build"}, {Week, "Week"}, {Load, "Load"}, {Adjust,
		"Adjust"}, {Bare, "Barefoot"},
	{Retest, "Retest"},
}

// IDs lists the steps' ids in their order.
func IDs() []ID {
	out := make([]ID, len(All))
	for i, s := range All {
		out[i] = s.ID
	}
	return out
}

// Facts is what decides how the steps stand.
type Facts struct {
	Locked    bool // a warning sign is open
	Form      bool // the runner's own form waits
	Screening bool // the newest screen is not finished
	Screened  bool // the newest visit is finished
	Again     bool // a visit before it is finished too
	Gait      bool // something of the gait was measured
	Built     bool // a programme is in force
	Decide    bool // a dose asks to move
	Due       bool // a retest is due
	High      bool // running volume is high
	Untold    bool // the running of the last seven days is not known
	Turn      bool // the transition to bare feet asks for a decision
}

// State is how one step stands.
type State struct {
	ID    ID     `json:"id"`
	Name  string `json:"name"`
	State string `json:"state" enum:"open,done,due"`
	Word  string `json:"word" doc:"what is due; empty for nothing"`
}

// rules say of each step when it is done and what of it is due: the first word that holds.
var rules = map[ID]struct {
	done func(Facts) bool
	due  []word
}{
	Intake: {func(f Facts) bool { return !f.Locked }, []word{{"warning sign", func(f Facts) bool { return f.Locked }},
		{"form to read", func(f Facts) bool { return f.Form }}}},
	Screen: {func(f Facts) bool { return f.Screened }, []word{{"begun", func(f Facts) bool { return f.Screening }}}},
	Gait:   {func(f Facts) bool { return f.Gait }, nil},
	Read:   {func(f Facts) bool { return f.Built }, nil},
	Build:  {func(f Facts) bool { return f.Built }, []word{{"next", func(f Facts) bool { return f.Screened && !f.Built }}}},
	Week:   {func(f Facts) bool { return f.Built }, nil},
	Load: {func(f Facts) bool { return f.Built && !f.High && !f.Untold }, []word{{"high", func(f Facts) bool { return f.High }},
		{"not told", func(f Facts) bool { return f.Untold && f.Built }}}},
	Adjust: {func(Facts) bool { return false }, []word{{"to decide", func(f Facts) bool { return f.Decide }}}},
	Bare:   {func(Facts) bool { return false }, []word{{"to decide", func(f Facts) bool { return f.Turn }}}},
	Retest: {func(f Facts) bool { return f.Again }, []word{{"due", func(f Facts) bool { return f.Due }}}},
}

type word struct {
	says string
	when func(Facts) bool
}

// Of says how every step stands, in their order.
func Of(f Facts) []State {
	out := make([]State, 0, len(All))
	for _, s := range All {
		st := State{ID: s.ID, Name: s.Name, State: "open"}
		if rules[s.ID].done(f) {
			st.State = "done"
		}
		for _, w := range rules[s.ID].due {
			if st.Word == "" && w.when(f) {
				st.State, st.Word = "due", w.says
			}
		}
		out = append(out, st)
	}
	return out
}
