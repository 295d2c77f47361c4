package e2e

import (
	"context"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// screened is a runner with one finished screen, entered behind the interface.
func (w *world) screened(p body.Profile) string {
	runner := w.desk.Runner(w.t, p)
	w.desk.Screen(w.t, runner, map[string]float64{"ankle.knee_to_wall": 9, "toe.active_height": 18, "toe.passive_height": 36,
		"calf.raises_straight": 12})
	return runner
}

func (w *world) programmed(p body.Profile) string {
	runner := w.screened(p)
	require.NoError(w.t, w.desk.Build(context.Background(), w.desk.Actor, runner, store.NewID(), build.Choices{}))
	return runner
}

// TestAHouseRuleFromItsReason: from a finding to its rule, change it, and the finding changes.
func TestAHouseRuleFromItsReason(t *testing.T) {
	w := start(t)
	runner := w.screened(testkit.Profile())
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/read")
	// 9.0 cm is short of 10 ± 0.5.
	reads(t, p, "Ankle bend", "left 9.0 cm ◣ short")
	choose(p, "[role=button]", "^9.0 cm$")
	reads(t, p, "common practice, no source", "Change the house rule ankle.knee_to_wall.ref")
	choose(p, "a", "Change the house rule ankle.knee_to_wall.ref$")
	reads(t, p, "House rules", "default 10 cm, 4 to 16")
	fill(p, "Knee-to-wall reference", "99")
	tap(p.MustElementR(`li[id="ankle.knee_to_wall.ref"] button`, "^Change$"))
	reads(t, p, "Knee-to-wall reference is 99; enter 4 to 16 cm")
	fill(p, "Knee-to-wall reference", "8")
	tap(p.MustElementR(`li[id="ankle.knee_to_wall.ref"] button`, "^Change$"))
	reads(t, p, "version 1", "Back to 10")
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/read")
	reads(t, p, "Leave alone")
	choose(p, "summary", "Ankle bend")
	reads(t, p, "left 9.0 cm ● clear")
}

// TestThePractice: invite a colleague, who sets a password with the code; change the own password;
// sign out everywhere.
func TestThePractice(t *testing.T) {
	w := start(t)
	p := w.signedIn()
	choose(p, "nav a", "^Practice$")
	fill(p, "Colleague's name", "Second Coach")
	fill(p, "Colleague's e-mail", "second")
	press(p, "^Invite$")
	reads(t, p, "is not an e-mail address")
	fill(p, "Colleague's e-mail", "second@test.example")
	press(p, "^Invite$")
	reads(t, p, "Code for second@test.example, shown once")
	code := p.MustElement("strong.fig").MustText()

	q := w.open("/sign-in", 1280, 800)
	press(q, "I have a code")
	fill(q, "E-mail", "second@test.example")
	fill(q, "One-time code", "AAAA-BBBB-CCCC-DDDD")
	fill(q, "New password", "a fine new password")
	press(q, "Set it and sign in")
	reads(t, q, "does not fit this e-mail, was used, or is older than a day")
	fill(q, "One-time code", code)
	press(q, "Set it and sign in")
	reads(t, q, "Second Coach · Test Practice", "Nobody needs you right now")

	fill(p, "Present password", "wrong")
	fill(p, "New password", "the next long password")
	press(p, "^Change it$")
	reads(t, p, "is not your present password")
	fill(p, "Present password", password)
	press(p, "^Change it$")
	reads(t, p, "Changed. Other devices are signed out.")
	press(p, "Sign out everywhere")
	reads(t, p, "Sign in", "Notchback supports coaching")
	q.MustReload()
	reads(t, q, "Second Coach") // the colleague is not signed out
}

// TestTheRoster: search, archive, bring back.
func TestTheRoster(t *testing.T) {
	w := start(t)
	w.desk.Runner(t, testkit.Profile())
	p := w.signedIn()
	reads(t, p, "New: not screened yet")
	choose(p, "nav a", "^Runners$")
	reads(t, p, "no programme")
	fill(p, "Search by name", "nobody")
	reads(t, p, "Nobody here is called “nobody”.")
	fill(p, "Search by name", "runner")
	press(p, "^Archive$")
	reads(t, p, "Nobody here is called “runner”.")
	tap(p.MustElement(`button[role=checkbox]`))
	reads(t, p, "Bring back")
	press(p, "^Bring back$")
	reads(t, p, "Nobody here is called “runner”.")
	choose(p, "nav a", "^Today$")
	reads(t, p, "New: not screened yet")
}

// TestTheCoachEntersWhatTheRunnerTold: a missing effort and a morning make a waiting proposal speak.
func TestTheCoachEntersWhatTheRunnerTold(t *testing.T) {
	ctx := context.Background()
	w := start(t)
	runner := w.programmed(testkit.Profile())
	o, err := w.desk.Chart(ctx, w.desk.Actor, runner)
	require.NoError(t, err)
	p := w.signedIn()
	for day, rpe := range []int{7, -1} { // one session told whole, one without its effort, each on a day of its own
		for _, x := range o.Prescriptions {
			require.NoError(t, w.desk.AddLog(ctx, w.desk.Actor, runner,
				room.Entry{Log: adjust.Log{ID: store.NewID(), On: o.Today.Add(day), Done: []int{20, 20, 20}, RPE: rpe, Source: "phone"},
					Prescription: x.ID}))
		}
		w.shift(p, time.Duration(day+1)*24*time.Hour)
	}
	for _, side := range body.Sides {
		require.NoError(t, w.desk.AddMorning(ctx, w.desk.Actor, runner, "phone",
			build.Morning{ID: store.NewID(), On: o.Today.Add(1), Region: body.Heel, Side: side}))
	}
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/adjust")
	reads(t, p, "waits for the effort of", "Effort missing")
	n := len(p.MustElementsByJS(`() => [...document.querySelectorAll("p")].filter((x) => x.textContent.startsWith("Effort missing"))`))
	assert.Equal(t, len(o.Prescriptions), n)
	for ; n > 0; n-- {
		fill(p, "Effort, 0–10", "7")
		press(p, "^Keep it$")
		until(t, p, "has one missing effort less",
			`n => [...document.querySelectorAll("p")].filter((x) => x.textContent.startsWith("Effort missing")).length === n`, n-1)
	}
	reads(t, p, "waits for the first steps of")
	fill(p, "First steps, 0–10", "eleven")
	press(p, "Keep the morning")
	reads(t, p, "pain")
	fill(p, "First steps, 0–10", "3")
	press(p, "Keep the morning")
	// Usual 0, this morning 3 at the left heel: well above usual, back one on the left.
	reads(t, p, "the morning was well above usual: back one", "earned, but the dose stands 2 days; it needs 3")
	choose(p, "[role=button]", "^the morning was well above usual")
	reads(t, p, "3 − 0 = 3 over usual; back from 2", "Farrar")
}

// TestTheThemeIsKept: dark stays dark after a reload.
func TestTheThemeIsKept(t *testing.T) {
	w := start(t)
	p := w.signedIn()
	press(p, "^Dark$")
	until(t, p, "is dark", `() => getComputedStyle(document.documentElement).backgroundColor === "rgb(12, 20, 16)"`)
	p.MustReload()
	reads(t, p, "Light")
	until(t, p, "is dark still", `() => document.documentElement.dataset.theme === "dark"`)
}

// TestThePhonesOtherEntries: a run, and a pain somewhere new, which opens the warning signs.
func TestThePhonesOtherEntries(t *testing.T) {
	w := start(t)
	runner := w.programmed(testkit.Profile())
	token := w.linked(runner)
	ph := w.open("/phone#"+token, 390, 844)
	reads(t, ph, "First steps")
	press(ph, "Some pain")
	tap(ph.MustElement(`button[aria-label="left heel (sole): 2"]`))
	tap(ph.MustElement(`button[aria-label="right heel (sole): 0"]`))
	press(ph, "Keep it; everything else is quiet")
	reads(t, ph, "✓ in")
	press(ph, "Pain somewhere else")
	press(ph, "^right$")
	place(ph, "right heel (sole), sole")
	tap(ph.MustElement(`button[aria-label="First steps there: 7"]`))
	press(ph, "^Another place$") // the pain of one place is not that of the next
	place(ph, "right arch, sole")
	require.True(t, ph.MustElementR("button", "^Keep it$").MustProperty("disabled").Bool())
	tap(ph.MustElement(`button[aria-label="First steps there: 4"]`))
	press(ph, "^Keep it$")
	reads(t, ph, "Is any of these so?")
	press(ph, "None of these")
	press(ph, "Enter a run")
	fill(ph, "Minutes", "forty")
	press(ph, "Keep the run")
	reads(t, ph, "Minutes: enter 1 to 1440.")
	fill(ph, "Minutes", "40")
	tap(ph.MustElement(`button[aria-label="Effort: 4"]`))
	tap(ph.MustElement(`button[aria-label="Pain while running: 0"]`))
	press(ph, "Keep the run")
	reads(t, ph, "Enter a run")
	until(t, ph, "has sent everything", allSent)
	o, err := w.desk.Chart(context.Background(), w.desk.Actor, runner)
	require.NoError(t, err)
	require.Len(t, o.Runs, 1)
	assert.Equal(t, 40.0, o.Runs[0].Minutes)
	require.Len(t, o.Mornings, 4)
	assert.True(t, o.Mornings[2].Quiet, "everything else was quiet")
	assert.Equal(t, body.Arch, o.Mornings[3].Region)
	assert.Equal(t, 4, o.Mornings[3].Pain)
}

// TestTheRaiseCounter: the beat starts, space counts a raise, the ceiling of a first visit stops the
// count, and the reason keeps it.
func TestTheRaiseCounter(t *testing.T) {
	w := start(t)
	runner := w.desk.Runner(t, testkit.Profile())
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/screen")
	startFull(t, p)
	station(t, p, "Heel raises")
	press(p, "^Start the beat$")
	reads(t, p, "Raise (space)", "one raise every 2 s · beat 1")
	until(t, p, "has the counter in hand", `() => document.activeElement.innerText.startsWith("Raise")`)
	for range 15 {
		p.Keyboard.MustType(' ')
	}
	reads(t, p, "Stop here: 15 is the ceiling today")
	choose(p, "[role=button]", "^stop at 15$")
	reads(t, p, "no raises to failure", "first visit")
	press(p, "^stopped at the ceiling$")
	// At least 15 is not known to be short of 25: borderline, to be tested to the end another day.
	reads(t, p, "15 · stopped at the ceiling", "left at least 15 ◐ borderline")
	tap(p.MustElement(`button[aria-label="Leave this side out: One-leg heel raises, straight knee, right"]`))
	press(p, "^Leave out$")
	reads(t, p, "left out: pain")
}

// TestAHoldThatNeedsNoCoach: some pain holds by itself and asks for nothing; a correction of it waits for the coach.
func TestAHoldThatNeedsNoCoach(t *testing.T) {
	ctx := context.Background()
	w := start(t)
	runner := w.programmed(testkit.Profile())
	o, err := w.desk.Chart(ctx, w.desk.Actor, runner)
	require.NoError(t, err)
	x := o.Prescriptions[0]
	first := store.NewID()
	l := adjust.Log{ID: first, On: o.Today, Done: []int{4, 4}, RPE: 6, Pain: 4, Source: "phone"}
	require.NoError(t, w.desk.AddLog(ctx, w.desk.Actor, runner, room.Entry{Log: l, Prescription: x.ID}))
	p := w.signedIn()
	reads(t, p, "1 line", "To ask first")
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/adjust")
	reads(t, p, "some pain during work: hold", "Held by itself: nothing to accept.")
	tap(p.MustElementR("summary", "Sessions and decisions \\(1 and 1\\)"))
	reads(t, p, "hold by itself")

	l.ID, l.Pain = store.NewID(), 1
	require.NoError(t, w.desk.AddLog(ctx, w.desk.Actor, runner, room.Entry{Log: l, Prescription: x.ID, Supersedes: first}))
	p.MustReload()
	reads(t, p, "some pain during work: hold")
	choose(p, "nav a", "^Today$")
	reads(t, p, "hold", "some pain during work: hold")
	press(p, "^Accept$")
	until(t, p, "has nothing to decide", `() => !document.body.innerText.includes("some pain during work")`)
}

// TestAHeelRecordedAsOneIsAskedFor: a heel of an earlier release counts as both its places until somebody says which.
func TestAHeelRecordedAsOneIsAskedFor(t *testing.T) {
	w := start(t)
	profile := testkit.Profile()
	profile.Symptoms = []body.Symptom{{Region: body.Heel, Side: body.Left, Worst: 4, Baseline: 2}}
	runner := w.programmed(profile)
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/screen")
	reads(t, p, "is the left heel sore?", "Core screen")
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/read")
	reads(t, p, "is the left heel sore?")
	press(p, "^the back$")
	until(t, p, "asks no more", `() => !document.body.innerText.includes("is the left heel sore?")`)
	choose(p, "nav a", "Intake")
	reads(t, p, "Left heel (back)")
	o, err := w.desk.Chart(context.Background(), w.desk.Actor, runner)
	require.NoError(t, err)
	assert.Equal(t, []body.Region{body.HeelBack}, []body.Region{o.Profile.Symptoms[0].Region})
	assert.Empty(t, o.Profile.Heels())
}

// Two coaches at one intake: what only one of them changed stands, what both changed is chosen by the second to save.
func TestTwoCoachesAtOneIntake(t *testing.T) {
	w := start(t)
	mine := w.signedIn()
	addRunner(t, mine, "Wren Test")
	mine.MustReload()
	reads(t, mine, "Save the intake")
	theirs := w.signedIn()
	theirs.MustNavigate(mine.MustInfo().URL)
	reads(t, theirs, "Save the intake")
	fill(theirs, "Body mass", "72")
	fill(theirs, "Height", "180")
	shoe := func(p *rod.Page, name string) {
		press(p, "Add a shoe")
		p.MustElementR("fieldset", "Heel stack").MustElementR("label", "Name").MustElement("input").MustInput(name)
	}
	shoe(theirs, "Trainer")
	press(theirs, "^Save the intake$")
	reads(t, theirs, "Saved. Next: the screen.")

	fill(mine, "Body mass", "74")
	fill(mine, "Foot length", "262")
	shoe(mine, "Racer")
	fill(mine, "Heel stack", "28")
	press(mine, "^Save the intake$")
	reads(t, mine, "Somebody else saved this intake", "Height: 180 cm taken over", "Yours: 74", "Theirs: 72",
		"Choose above whose entry stands")
	assert.True(t, mine.MustElementR("button", "^Save the intake$").MustProperty("disabled").Bool())
	press(mine, "Theirs: 72")
	reads(t, mine, "Yours: Racer, heel stack 28", "Theirs: Trainer")
	tap(mine.MustElement(`[role=group][aria-label="Shoes"]`).MustElementR("button", "^Both$"))
	press(mine, "^Save the intake$")
	reads(t, mine, "Saved. Next: the screen.")
	mine.MustReload()
	reads(t, mine, "Save the intake")
	for label, want := range map[string]string{"Body mass": "72", "Height": "180", "Foot length": "262", "Big toe, joint to tip": "60"} {
		assert.Equal(t, want, field(mine, label).MustProperty("value").Str(), label)
	}
	names := mine.MustEval(`() => [...document.querySelectorAll("fieldset input")].map((x) => x.value).join(" ")`).Str()
	assert.Contains(t, names, "Racer")
	assert.Contains(t, names, "Trainer")
}

// What may have been left empty is asked until somebody answers it, and then no more.
func TestWhatWasLeftEmptyIsAsked(t *testing.T) {
	w := start(t)
	p := w.signedIn()
	addRunner(t, p, "Wren Test")
	running := func() { tap(p.MustElementR("label", "No running at present").MustElement("button")) }
	running()
	press(p, "Add a shoe")
	fill(p, "One shoe", "250")
	fill(p, "Heel stack", "28")
	fill(p, "Forefoot stack", "20")
	p.MustElementR("fieldset", "Heel stack").MustElementR("label", "Name").MustElement("input").MustInput("Trainer")
	press(p, "^Save the intake$")
	reads(t, p, "Saved. Next: the screen.", "Left empty, and read as unknown", "Minutes of running a week", "Trainer: how far it bends",
		"index not known")
	running()
	fill(p, "Bends lengthwise, 0–2.5", "0")
	fill(p, "Twists, 0–2.5", "0")
	press(p, "^Save the intake$")
	reads(t, p, "Saved. Next: the screen.", "Minimalist Index")
	assert.NotContains(t, text(p), "Left empty")
	p.MustReload()
	reads(t, p, "Save the intake")
	assert.Equal(t, "0", field(p, "Twists, 0–2.5").MustProperty("value").Str(), "stiff is not empty")
}

// TestTheSecondFactorAndAccess: a coach sets a second factor up, is asked for it, and comes in by a recovery code; the owner
// sees who did what, and ends the colleague's access.
func TestTheSecondFactorAndAccess(t *testing.T) {
	w := start(t)
	p := w.signedIn()
	choose(p, "nav a", "^Practice$")
	press(p, "Set up a second factor")
	secret := p.MustElement("section[aria-label='Second factor'] strong").MustText()
	number, err := totp.GenerateCode(secret, time.Now())
	require.NoError(t, err)
	fill(p, "Number", number)
	fill(p, "Your password", password)
	press(p, "Ask for it from now on")
	reads(t, p, "Write these recovery codes down", "A number of your authenticator is asked for")
	recovery := p.MustElement("section[aria-label='Second factor'] li").MustText()

	q := w.open("/sign-in", 1280, 800)
	fill(q, "E-mail", email)
	fill(q, "Password", password)
	press(q, "^Sign in$")
	reads(t, q, "Enter the number your authenticator shows.")
	fill(q, "Number", "000000")
	press(q, "^Sign in$")
	reads(t, q, "wait for the next one")
	fill(q, "Number", recovery)
	press(q, "^Sign in$")
	reads(t, q, "Nobody needs you right now")

	p.MustReload()
	reads(t, p, "this one", "Who did what", "Signed in", "Set up a second factor")
	press(p, "^End it$")
	until(t, p, "has ended it", `() => [...document.querySelectorAll("button")].every((b) => b.innerText !== "End it")`)
	q.MustReload()
	reads(t, q, "I have a code")
}
