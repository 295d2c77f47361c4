package e2e

import (
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
	"notchback/internal/testkit"
)

// wide finds what is cut off at the right: the page scrolls sideways, or words end outside what they stand in.
const wide = `() => {
	const out = [];
	const most = document.documentElement.clientWidth + 1;
	if (document.documentElement.scrollWidth > most) out.push("the page is " + document.documentElement.scrollWidth + " px wide");
	for (const el of document.querySelectorAll("button, a, label, h1, h2, h3, p, td, th, li, legend")) {
		if (el.closest(".sr-only, svg, .sheet, [data-scrolls]")) continue;
		const r = el.getBoundingClientRect();
		if (r.width && r.height && r.right > most && getComputedStyle(el).position !== "absolute")
			out.push(el.tagName + " " + (el.innerText || "").trim().slice(0, 40) + " ends at " + Math.round(r.right));
	}
	return out.slice(0, 6).join("; ");
}`

// Every view in a narrow window, on a phone, and twice as large: nothing is cut off at the side.
func TestNarrowWindowsAndTwiceTheSize(t *testing.T) {
	w := start(t)
	profile := testkit.Profile()
	profile.Symptoms = []body.Symptom{{Region: body.Heel, Side: body.Left, Worst: 5, Baseline: 2, When: body.Times{"first_steps"}}}
	runner := w.programmed(profile)
	other := w.desk.Runner(t, testkit.Profile())
	w.desk.Begin(t, other)
	p := w.signedIn()
	look := func(p *rod.Page, name string, width, height int) {
		t.Helper()
		p.MustSetViewport(width, height, 1, false)
		if to := os.Getenv("NOTCHBACK_PICTURES"); to != "" {
			_ = os.WriteFile(fmt.Sprintf("%s/%s-%d.png", to, name, width), p.MustScreenshot(), 0o644)
		}
		assert.Empty(t, p.MustEval(wide).Str(), "%s, %d px wide", name, width)
	}
	at := "/runners/" + runner
	for _, v := range []struct{ name, path, ready string }{
		{"today", "/", "Today"}, {"roster", "/runners", "Search by name"}, {"house", "/house", "Find a rule"},
		{"practice", "/practice", "Invite a colleague"}, {"library", "/library", everyRail(0)}, {"intake", at + "/intake", "Where it hurts"},
		{"start", at + "/screen", "Core screen"}, {"read", at + "/read", "Build the programme"}, {"build", at + "/build", "put into force"},
		{"week", at + "/week", "Days ahead"}, {"load", at + "/load", "Or drop files here"}, {"adjust", at + "/adjust", "Calf"},
		{"barefoot", at + "/barefoot", "The gate"},
		{"retest", at + "/retest", "Nothing to compare yet"},
		{"handout", at + "/hand-out", "The exercises"}, {"referral", at + "/referral", "To the clinician"},
		{"gait", "/runners/" + other + "/gait", "Open a clip"}, {"screen", "/runners/" + other + "/screen", "of 60 measures"},
	} {
		p.MustSetViewport(1280, 800, 1, false)
		p.MustNavigate("http://" + w.addr + v.path)
		reads(t, p, v.ready)
		look(p, v.name, 820, 1180)
		look(p, v.name, 640, 400) // 1280 × 800 at 200 %
	}
	link := "/phone#" + w.linked(runner)
	ph := w.open(link, 390, 844)
	reads(t, ph, "First steps", "To mind")
	for _, v := range []string{"", "/intake"} {
		if v != "" {
			ph.MustNavigate("http://" + w.addr + "/phone" + v)
			reads(t, ph, "Before we meet")
		}
		look(ph, "phone"+strings.Trim(v, "/"), 390, 844)
		look(ph, "phone"+strings.Trim(v, "/"), 320, 700)
	}
}
