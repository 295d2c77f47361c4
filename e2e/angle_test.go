package e2e

import (
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/screen"
	"notchback/internal/testkit"
)

// TestAPhoneOnTheShin: a code from the desk makes a phone the inclinometer of one measure; its tilt is shown at the desk, and the
// coach's key enters it. The desk ends it; a phone without a sensor says so.
func TestAPhoneOnTheShin(t *testing.T) {
	w := start(t)
	runner := w.desk.Runner(t, testkit.Profile())
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/screen")
	until(t, p, "asks the warning signs", `() => document.body.innerText.includes("No to the rest")`)
	askSigns(t, p)
	startFull(t, p)
	station(t, p, "Ankle")
	part := section(p, "Lunge, shin angle")
	code := func() string {
		tap(part.MustElementR("button", "Use a phone|another code"))
		return p.MustElementR("strong", `^\d{6}$`).MustText() // drawn on both sides
	}
	ph := w.open("/phone/angle", 390, 844)
	reads(t, ph, "Phone as inclinometer", "shows nothing of the runner")
	use := func(code string) {
		fill(ph, "Code from the desk", code)
		press(ph, "^Use this phone$")
	}
	use("123")
	reads(t, ph, "make another at the desk")
	use(code())
	reads(t, ph, "does not tell a page how it is tilted") // no sensor has spoken
	press(p, "^End it$")

	turn := func(beta float64) {
		require.NoError(t, proto.DeviceOrientationSetDeviceOrientationOverride{Alpha: 10, Beta: beta, Gamma: 3}.Call(ph))
	}
	turn(90)
	use(code())
	reads(t, ph, "front of the shin")
	turn(88) // on the door frame it shows two degrees
	reads(t, ph, "2.0°")
	press(ph, "^Set zero$")
	reads(t, ph, "0.0°")
	axeBoth(t, ph, "phone as inclinometer")
	turn(52)
	until(t, p, "offers the angle", `() => /Take 36\.0°/.test(document.body.innerText)`)
	axeBoth(t, p, "a phone's angle at the desk")
	assert.Empty(t, w.chart(runner).Screens[0].Trials)
	press(p, "^Take 36.0°$")
	tap(part.MustElementR("button", "^Keep$"))
	soon(t, func() bool { return len(w.chart(runner).Screens[0].Trials) == 1 }, "the coach's key enters it")
	x := w.chart(runner).Screens[0].Trials[0]
	assert.True(t, x.Phone)
	assert.InDelta(t, 36, x.Value, 0.01)
	rd, _ := screen.Read(w.chart(runner).Screens[0].Trials, x.Measure, x.Side)
	assert.True(t, rd.Phone, "its error is its own")
	station(t, p, "Balance") // another measure is open: the phone is let go
	reads(t, ph, "The desk has ended this")
	assert.NotContains(t, text(ph), w.chart(runner).Name)
}

// axeBoth looks at a page in both themes.
func axeBoth(t *testing.T, p *rod.Page, view string) {
	require.NoError(t, proto.PageSetBypassCSP{Enabled: true}.Call(p))
	for _, theme := range []string{"light", "dark"} {
		p.MustEval(`t => document.documentElement.dataset.theme = t`, theme)
		axeClean(t, p, view+", "+theme, allRules)
	}
}
