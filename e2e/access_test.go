package e2e

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// TestHouseRulesPreviewHistoryAndApproaches: what a change would do is shown before it is made, and
// who made it stays on record.
func TestHouseRulesPreviewHistoryAndApproaches(t *testing.T) {
	w := start(t)
	for range 2 {
		w.screened(testkit.Profile()) // knee to wall 9 cm: short of 10 ± 0.5
	}
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/house")
	reads(t, p, "Your own measurement error", "No repeat pairs yet.")
	fill(p, "Knee-to-wall reference", "9")
	press(p, "What would change")
	reads(t, p, "2 runners' findings change.", "Knee to wall, left: short → borderline")
	fill(p, "Find a rule", "lunsford")
	until(t, p, "finds the raises' reference alone",
		`() => [...document.querySelectorAll("li[id]")].map((x) => x.id).join() === "calf.raises_straight.ref"`)
	fill(p, "One-leg heel raises reference", "20")
	tap(p.MustElementR(`li[id="calf.raises_straight.ref"] button`, "^Change$"))
	reads(t, p, "version 1", "Back to 25")
	pick := field(p, "Pain while training")
	pick.MustSelect("no pain: 0 go on, 1–2 hold, 3 and over back")
	reads(t, p, "version 2")
	press(p, "^History$")
	reads(t, p, "Test Coach: One-leg heel raises reference → 20", "approach.pain → none")
	h, err := w.desk.Chart(context.Background(), w.desk.Actor, w.desk.Runner(t, testkit.Profile()))
	require.NoError(t, err)
	assert.Equal(t, "none", h.House.Choice(nil, "pain"))
}

// TestAccessibility runs axe-core on every main view: no serious violation. In the dark theme it looks at the colours alone:
// nothing else differs there.
func TestAccessibility(t *testing.T) {
	w := start(t)
	ctx := context.Background()
	profile := testkit.Profile()
	profile.Symptoms = []body.Symptom{{Region: body.Heel, Side: body.Left, Worst: 5, Baseline: 2, When: body.Times{"first_steps"}}}
	runner := w.programmed(profile)
	require.NoError(t, w.desk.RecordStop(ctx, w.desk.Actor, runner,
		refer.Stop{ID: store.NewID(), Sign: "swelling", Region: body.Knee, Side: body.Right, Source: "intake"}))
	other := w.desk.Runner(t, testkit.Profile())
	w.desk.Begin(t, other)
	token := store.NewToken()
	require.NoError(t, w.desk.Store.In(ctx, w.desk.Actor.Practice, func(tx *store.Tx) error {
		return tx.AddLink(ctx, runner, store.NewID(), store.Hash(token), time.Now().Add(time.Hour))
	}))
	rules := allRules
	check := func(p *rod.Page, view string) { axeClean(t, p, view, rules) }
	for _, theme := range []string{"light", "dark"} {
		if theme == "dark" {
			rules = `{ type: "rule", values: ["color-contrast"] }`
		}
		p := w.open("/sign-in", 1280, 800)
		require.NoError(t, proto.PageSetBypassCSP{Enabled: true}.Call(p))
		p.MustEval(`t => localStorage.setItem("theme", t)`, theme)
		p.MustReload()
		reads(t, p, "Sign in")
		check(p, "sign-in, "+theme)
		if has, _, _ := p.HasR("label", "E-mail"); has {
			field(p, "E-mail").MustInput(email)
			field(p, "Password").MustInput(password)
			press(p, "^Sign in$")
		}
		until(t, p, "is the room Today", `w => document.querySelector("h1")?.innerText.trim().startsWith(w)`, "Today")
		check(p, "today, "+theme)
		accessible(t, w, p, check, runner, other, theme)
	}
	rules = allRules
	ph := w.open("/phone#"+token, 390, 844)
	require.NoError(t, proto.PageSetBypassCSP{Enabled: true}.Call(ph))
	ph.MustReload()
	reads(t, ph, "First steps")
	check(ph, "phone")
	ph.MustNavigate("http://" + w.addr + "/phone/intake")
	reads(t, ph, "Before we meet")
	check(ph, "phone intake")
}

// accessible checks every page of the desk in one theme.
const allRules = `["wcag2a", "wcag2aa", "wcag21a", "wcag21aa"]`

// axeClean runs axe-core on a page as it is: no serious violation of these rules.
func axeClean(t *testing.T, p *rod.Page, view, rules string) {
	t.Helper()
	axe, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	require.NoError(t, err)
	p.MustEval(`src => { if (!window.axe) (0, eval)(src); }`, string(axe))
	found := p.MustEval(`() => axe.run(document, { runOnly: ` + rules + `, resultTypes: ["violations"] })
		.then((r) => JSON.stringify(r.violations.filter((v) => v.impact === "serious" || v.impact === "critical").map((v) => ({
			id: v.id, help: v.help, nodes: v.nodes.slice(0, 4).map((n) => n.html.slice(0, 160) + " " + (n.any[0]?.message ?? "")) }))))`).Str()
	var list []any
	require.NoError(t, json.Unmarshal([]byte(found), &list))
	assert.Empty(t, list, view)
}

func accessible(t *testing.T, w *world, p *rod.Page, check func(*rod.Page, string), runner, other, theme string) {
	at := "/runners/" + runner
	for path, ready := range map[string]string{"/runners": "Search by name", "/house": "Find a rule", "/practice": "Invite a colleague",
		"/library": everyRail(0), at + "/hand-out": "The exercises", at + "/intake": "Where it hurts", at + "/screen": "Core screen",
		at + "/read":  "Build the programme",
		at + "/build": "put into force", at + "/week": "Days ahead", at + "/load": "Or drop files here", at + "/adjust": "Calf",
		at + "/barefoot": "The gate",
		at + "/retest":   "Nothing to compare yet",
		at + "/referral": "To the clinician"} {
		p.MustNavigate("http://" + w.addr + path)
		reads(t, p, ready)
		check(p, path+", "+theme)
	}
	p.MustNavigate("http://" + w.addr + "/library")
	reads(t, p, everyRail(0))
	choose(p, "button", "^Balance")
	reads(t, p, "Change for our practice")
	check(p, "a rail, "+theme)
	press(p, "Change for our practice")
	reads(t, p, "Exercises, easiest first")
	check(p, "a rail being changed, "+theme)
	p.MustNavigate("http://" + w.addr + at + "/build")
	press(p, "^Change$")
	choose(p, "summary", "Left out")
	press(p, "Put this draft aside")
	reads(t, p, "Exercises left out", "The two are the same so far")
	check(p, "the programme by hand, "+theme)
	p.MustNavigate("http://" + w.addr + at + "/week")
	until(t, p, "is the week", `() => { const b = document.querySelector("td[data-cell] button"); b?.focus(); return !!b; }`)
	p.Keyboard.MustType(input.Enter)
	p.MustElement("td.hatched")
	check(p, "a session picked up, "+theme)
	p.MustNavigate("http://" + w.addr + "/runners/" + other + "/gait")
	reads(t, p, "Open a clip", "Metronome")
	check(p, "gait, "+theme)
	film := simulated(t, p, "heel-60")
	markAll(t, p, film.Marked())
	figureOf(t, p, "cadence", body.Both)
	press(p, "shot at 60")
	choose(p, `section[aria-label="Stills"] button`, "landing")
	reads(t, p, "keep this picture")
	check(p, "clip bench, "+theme)
	p.MustNavigate("http://" + w.addr + "/runners/" + other + "/screen")
	reads(t, p, "of 60 measures")
	for _, s := range screen.Stations {
		station(t, p, s.Name)
		check(p, fmt.Sprintf("station %s, %s", s.Name, theme))
	}
}
