package e2e

import (
	"context"
	"slices"
	"testing"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/screen"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// walker is a runner whom only the left arch keeps from running bare.
func (w *world) walker() string {
	ctx := context.Background()
	profile := testkit.Profile()
	profile.NotRunning, profile.WeeklyMinutes, profile.LongestRunKm, profile.Goal = false, 160, 12, "barefoot"
	profile.Shoes = []body.Shoe{{Name: "road pair", MassG: 285, HeelMm: 32, ForefootMm: 24, Technologies: 1, Lengthwise: 1, Twisting: 1},
		{Name: "thin pair", MassG: 150, HeelMm: 10, ForefootMm: 10, Lengthwise: 2.5, Twisting: 2.5}}
	runner := w.desk.Runner(w.t, profile)
	w.desk.Screen(w.t, runner, map[string]float64{"ankle.knee_to_wall": 12, "toe.active_height": 30, "toe.passive_height": 38,
		"calf.raises_straight": 24, "toes.big_alone": 2, "toe.press": 2, "foot.short": 2, "balance.open": 45, "squat.arch": 0, "toes.shape": 0,
		"ankle.end_feel": 0, "sole.touch": 0, "walk.heels": 0, "walk.toes": 0})
	w.arch(runner, 2, 0)
	require.NoError(w.t, w.desk.Build(ctx, w.desk.Actor, runner, store.NewID(), build.Choices{}))
	w.runsOf(runner, 160)
	require.NoError(w.t, w.desk.AddRun(ctx, w.desk.Actor, runner, "phone", load.Run{ID: store.NewID(),
		On: body.DateOf(w.desk.Now().UTC()), Word: load.AsUsual, RPE: -1}, ""))
	return runner
}

// arch takes the two-finger test, a side by itself.
func (w *world) arch(runner string, left, right float64) {
	visit := w.desk.Begin(w.t, runner)
	for side, v := range map[body.Side]float64{body.Left: left, body.Right: right} {
		require.NoError(w.t, w.desk.Try(context.Background(), runner, visit, screen.Trial{ID: store.NewID(), Measure: "arch.two_finger",
			Side: side, Value: v}))
	}
	require.NoError(w.t, w.desk.InScreen(context.Background(), w.desk.Actor, runner, visit, func(tx *store.Tx) error {
		return tx.FinishScreen(context.Background(), runner, visit)
	}))
}

func (w *world) barefoot(p *rod.Page, runner string) {
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/barefoot")
	reads(w.t, p, "The gate")
}

// An arch that flattens caps at strength and builds work for it; a retest opens the bounces; a bad morning on the phone sets the week
// back and Today says so; what might be moves the dates; loss of feeling closes all of it.
func TestTheBarefootTransition(t *testing.T) {
	w := start(t)
	runner := w.walker()
	p := w.signedIn()
	w.barefoot(p, runner)
	reads(t, p, "The worse foot decides: up to stage 2 strength, by arch, two fingers, left", "An arch that flattens loads the big-toe joint",
		"Short foot (in the programme)", "36 %", "92 %", "56 points, too much at once")
	assert.True(t, slices.ContainsFunc(w.chart(runner).Prescriptions, func(x catalog.Prescription) bool { return x.Rail == "short_foot" }),
		"the failed arch gives work")
	choice := p.MustElementByJS(`() => [...document.querySelectorAll("label")].find((l) => l.innerText.includes("Begins with"))
		.querySelector("select")`)
	assert.NotContains(t, choice.MustText(), "40 contacts", "no further than the gate")
	choice.MustSelect("2 strength: whole session")
	press(p, "^Begin$")
	reads(t, p, "The whole strength session", "With about 60 % of the usual weights", "Ahead, if every week is quiet", "No further:",
		"until the gate opens stage 3, bounces; Arch, two fingers, left")

	// A retest of the arch opens it.
	w.arch(runner, 0, 0)
	w.barefoot(p, runner)
	reads(t, p, "Open for both feet", "40 contacts on grass or a mat", "run–walk, 5 min a week")
	until(t, p, "has a date for the bounces", "(n) => !!("+dateOf+")(n)", "3")

	// What might be.
	before := p.MustEval(dateOf, "3").Str()
	fill(p, "… and weeks lost", "2")
	press(p, "See the dates")
	until(t, p, "shows other dates", `() => [...document.querySelectorAll('section[aria-label="Ahead"] th')].some((x) =>
		x.innerText === "Then")`)
	assert.NotEqual(t, before, p.MustEval(thenOf, "3").Str())

	w.badMorning(p, runner)
}

// badMorning: told on the phone it sets the week back; loss of feeling closes all of it.
func (w *world) badMorning(p *rod.Page, runner string) {
	t := w.t
	ph := w.open("/phone#"+w.linked(runner), 390, 844)
	reads(t, ph, "Bare feet", "Enter how it went")
	press(ph, "^Some pain$")
	tapAll(ph, `button[aria-label$="calf: 2"]`, "")
	tapAll(ph, `button[aria-label$="arch: 0"]`, "")
	tapAll(ph, `button[aria-label$="heel (sole): 0"]`, "")
	press(ph, "Keep it; everything else is quiet")
	reads(t, ph, "✓ in")
	until(t, ph, "has sent everything", allSent)
	w.barefoot(p, runner)
	reads(t, p, "notch back", "a morning well above usual: back a week", "Asks for: the first half of each strength session")
	p.MustNavigate("http://" + w.addr + "/")
	reads(t, p, "Barefoot: a morning well above usual: back a week", "the whole strength session → the first half of each strength session")
	w.barefoot(p, runner)
	press(p, "^Decide otherwise$")
	press(p, "^Decide$")
	reads(t, p, "say in a word why you decide otherwise")
	press(p, "^Accept$")
	reads(t, p, "Decided so far", "Moves up after 2 quiet weeks", "a week at this dose first")
	assert.Equal(t, barefoot.At{Stage: barefoot.Strength}, w.chart(runner).BareState().At)

	// Loss of feeling closes all of it, here and on the phone.
	o := w.chart(runner)
	lost := o.Profile
	lost.Cautions = append(lost.Cautions, "sensation")
	require.NoError(t, w.desk.SaveIntake(context.Background(), w.desk.Actor, runner, room.Intake{Name: o.Name, Timezone: o.Timezone,
		Profile: lost, Version: o.Version}))
	w.barefoot(p, runner)
	reads(t, p, "Resting for now", "Rest", "no bare work for now", "loss of feeling")
	ph.MustReload()
	reads(t, ph, "Rest from bare feet for now")
}

const (
	// The date of a stage ahead, and what it would be.
	rowOf  = `(n) => [...document.querySelectorAll('section[aria-label="Ahead"] tbody tr')].find((r) => r.innerText.startsWith(n + " "))`
	dateOf = rowOf + `?.cells[1].innerText`
	thenOf = rowOf + `?.cells[2].innerText`
)

// A go told on the phone: broken skin rests that foot, pain on a bone locks the phone at once and refers, signal or not.
func TestAGoOnBareFeetFromThePhone(t *testing.T) {
	w := start(t)
	runner := w.walker()
	ctx := context.Background()
	require.NoError(t, w.desk.PlanBarefoot(ctx, w.desk.Actor, runner, store.NewID(), "", barefoot.Plan{Aim: barefoot.BareFeet, Cap: 20}))
	ph := w.open("/phone#"+w.linked(runner), 390, 844)
	reads(t, ph, "Bare feet", "5 min; a soft ball under the foot first")
	press(ph, "^Enter how it went$")
	press(ph, "^Keep it$")
	reads(t, ph, "Say what hurt, 0 for nothing.")
	pick := func(group, answer string) {
		tap(ph.MustElementByJS(`(g, a) => [...document.querySelectorAll('[role=radiogroup][aria-label="' + g + '"] button')].find((b) =>
			b.innerText === a)`, group, answer))
	}
	pick("Pain while doing it", "0")
	pick("The skin of the soles", "fine")
	press(ph, "^Keep it$")
	reads(t, ph, "does a bone hurt?")
	pick("A bone on top of the foot", "no")
	press(ph, "^Keep it$")
	reads(t, ph, "✓ in")
	until(t, ph, "has sent everything", allSent)
	logs := w.chart(runner).BareLogs
	require.Len(t, logs, 1)
	assert.Equal(t, "0", logs[0].Pain)
	assert.InDelta(t, 5, logs[0].Minutes, 0)

	w.down()
	press(ph, "^Enter how it went$")
	pick("Pain while doing it", "2")
	ph.MustElementByJS(`() => [...document.querySelectorAll("label")].find((l) => l.innerText.startsWith("Where")).querySelector("select")`).
		MustSelect("top of the foot")
	pick("Side", "left")
	pick("The skin of the soles", "fine")
	pick("A bone on top of the foot", "left")
	press(ph, "^Keep it$")
	reads(t, ph, "no running and no bare feet until a clinician has looked at it", "Rest")
	w.up()
	ph.MustReload()
	until(t, ph, "has sent everything", allSent)
	o := w.chart(runner)
	require.Len(t, o.Stops, 1, "told once, by the sign and by the go")
	assert.Equal(t, "bone", o.Stops[0].Sign)
	assert.Equal(t, body.TopOfFoot, o.Stops[0].Region)
	assert.Equal(t, body.Left, o.Stops[0].Side)
	assert.Equal(t, barefoot.None, o.BareState().Now.Stage)
}
