package e2e

import (
	"math/rand/v2"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/selfcheck"
	"notchback/internal/standin"
	"notchback/internal/testkit"
)

// beginsCheck opens the self-check of a phone.
func beginsCheck(p *player) {
	press(p.ph, "^(Self-check|Go on with the self-check)")
}

// place touches a place of the foot map.
func place(ph *rod.Page, name string) {
	ph.MustElement(`[aria-label="` + name + `"]`).MustEval(`() => this.dispatchEvent(new MouseEvent("click", { bubbles: true }))`)
}

// TestASelfCheckAtHome: without signal a runner is guided through it, puts it aside half-way and goes on after the page was
// closed; once there is signal it stands on Today as told by them, and changes no measure of the coach's.
func TestASelfCheckAtHome(t *testing.T) {
	w := start(t)
	runner := w.walker()
	before := w.chart(runner).Trials()
	p := &player{world: w, ph: w.open("/phone#"+w.linked(runner), 390, 844)}
	reads(t, p.ph, "Check yourself", "Self-check, three to five minutes")
	w.down()
	beginsCheck(p)
	reads(t, p.ph, "Three to five minutes, alone", "First: anything new or odd?")
	p.axe("self-check, before")
	p.touch("^No, begin$")
	reads(t, p.ph, "1 of ", "its brim against the horizon")
	p.runs()
	reads(t, p.ph, "Knee to wall")
	p.touch("^Put aside$")
	p.ph.MustReload()
	beginsCheck(p)
	for _, cm := range []string{"10", "11,5"} {
		fill(p.ph, "Try 1", cm)
		p.touch("^Keep it$")
	}
	p.answer("Pain, left", "0")
	p.answer("Pain, right", "3")
	reads(t, p.ph, "Where? Tap the place.")
	p.axe("self-check, where it hurt")
	place(p.ph, "right heel (sole), sole")
	p.touch("^Leave it out$")
	p.touch("^No room or no tape$")
	p.answer("Pain, right", "0")
	for _, s := range []time.Duration{12, 50} {
		reads(t, p.ph, "One leg, eyes open", "Tap to start")
		p.touch("Tap to start")
		p.pass(s * time.Second)
		if s < 45 {
			p.touch("tap to stop")
		}
		p.touch("^Keep it: free of hands$")
	}
	reads(t, p.ph, "One leg, eyes closed Right", "A hand just above a rail")
	p.touch("^Leave it out$")
	p.touch("^Rather not today$")
	p.touch("^hidden$")
	p.touch("^partly$")
	reads(t, p.ph, "That was it")
	p.touch("^Send it to your coach$")
	reads(t, p.ph, "not sent yet")
	w.up()
	p.ph.MustReload()
	until(t, p.ph, "has sent everything", allSent)

	w.toldFromHome(runner)
	assert.Equal(t, before, w.chart(runner).Trials(), "nothing of it is a measure of the coach's")
	desk := w.signedIn()
	reads(t, desk, "Self-check from home", "Walk on the heels, right: pain 3 of 10 at the heel (sole)")
	desk.MustNavigate("http://" + w.addr + "/runners/" + runner + "/retest")
	reads(t, desk, "Checked at home", "Reported by the runner", "3 of 10", "not done: no room or no tape")
	press(desk, "^I have seen it$")
	soon(t, func() bool { return w.chart(runner).SelfChecks[0].Seen }, "it is marked as seen")
	reads(t, p.ph, "Last on")
}

// runs answers what is checked while running; the first count is tapped.
func (p *player) runs() {
	p.touch("^2 ·")
	p.touch("^1 ·")
	p.touch("^1 ·")
	p.touch("^touches the line$")
	p.touch("^clear of the line$")
	p.touch("^Tap or count$")
	tapped := p.ph.MustElementR("[role=dialog] button", "it is zero")
	for range 44 { // zero and 43 more
		tapped.MustEval(`() => this.dispatchEvent(new PointerEvent("pointerdown", { bubbles: true }))`)
		p.on += 300 * time.Millisecond
		p.ph.MustEval(`ms => localStorage.setItem("test shift", String(ms))`, p.on.Milliseconds())
	}
	for i := range 4 {
		if i > 0 {
			p.ph.MustElementR("[role=dialog] button", "it is zero").MustEval(`() =>
				this.dispatchEvent(new PointerEvent("pointerdown", { bubbles: true }))`)
		}
		p.pass(16 * time.Second)
		reads(p.t, p.ph, "Footfalls after the first")
		if i > 0 {
			fill(p.ph, "Footfalls after the first", "42")
		} else {
			p.axe("self-check, a count")
		}
		p.touch("^Keep the count$")
	}
}

// toldFromHome: what arrived is what was answered.
func (w *world) toldFromHome(runner string) {
	t, o := w.t, w.chart(runner)
	require.Len(t, o.SelfChecks, 1)
	told := map[string][]float64{}
	for _, x := range o.SelfChecks[0].Tries {
		if x.Skipped == "" {
			told[x.Item+" "+string(x.Side)] = append(told[x.Item+" "+string(x.Side)], x.Value)
		}
	}
	assert.Equal(t, []float64{174, 170, 170, 170}, told["cadence both"], "4n + 2")
	assert.Equal(t, []float64{11.5}, told["knee right"])
	assert.Equal(t, []float64{3}, told["heels right"])
	assert.Empty(t, told["toes left"])
	assert.InDelta(t, 12, told["open left"][0], 1)
	assert.Equal(t, []float64{45}, told["open right"], "it stops by itself")
}

// TestPainEndsTheSelfCheck: what hurts above the limit is sent at once, with what came before it, and the signs are asked.
func TestPainEndsTheSelfCheck(t *testing.T) {
	w := start(t)
	runner := w.programmed(testkit.Profile())
	p := &player{world: w, ph: w.open("/phone#"+w.linked(runner), 390, 844)}
	beginsCheck(p)
	p.touch("^No, begin$")
	for !p.ph.MustHasR("[role=dialog] h2", "Walk on the heels") {
		p.touch("^Leave it out$")
		p.touch("^Not sure how$")
	}
	p.answer("Pain, left", "6")
	place(p.ph, "left heel (sole), sole")
	reads(t, p.ph, "Is any of these so?")
	soon(t, func() bool { return len(w.chart(runner).SelfChecks) == 1 }, "it was sent")
	worst, ok := selfcheck.Worst(w.chart(runner).SelfChecks[0].Lines(nil, body.Profile{}, w.chart(runner).House))
	assert.True(t, ok)
	assert.EqualValues(t, 6, worst.Value)
}

// TestThePhoneFeelsTheCadence: the browser's own sensor, moved by a simulated runner; the server reads the cadence from it.
func TestThePhoneFeelsTheCadence(t *testing.T) {
	w := start(t)
	runner := w.programmed(testkit.Profile())
	p := &player{world: w, ph: w.open("/phone#"+w.linked(runner), 390, 844)}
	reads(t, p.ph, "Check yourself")
	require.NoError(t, proto.BrowserGrantPermissions{Permissions: []proto.BrowserPermissionType{proto.BrowserPermissionTypeSensors}}.Call(w.b))
	moved := accelerometer(t, p.ph)
	w.down()
	inStore(p.ph, `async (d) => {
		const s = d.transaction("bundles", "readwrite").objectStore("bundles");
		const [runner] = await ask(s.getAllKeys());
		const b = await ask(s.get(runner));
		b.check.items = b.check.items.filter((i) => i.id === "cadence").map((i) => ({ ...i, tries: 2 }));
		await ask(s.put(b, runner));
	}`)
	p.ph.MustReload()
	beginsCheck(p)
	p.touch("^No, begin$")
	p.touch("^Let the phone feel it$")
	p.touch("^Start, then run$")
	walk := standin.Walker{Cadence: 172, Step: 0.01, Shake: 6, Swing: 2, Noise: 0.3}
	ms, a := walk.Stretch(rand.New(rand.NewPCG(5, 5)))
	from := time.Now()
	for !p.ph.MustHasR("[role=dialog] h2", "That was it") && time.Since(from) < 60*time.Second {
		for range 20 { // as fast as the sensor is read
			moved(float64(time.Since(from).Milliseconds()), ms, a)
		}
	}
	reads(t, p.ph, "That was it", "1 checked")
	p.touch("^Send it to your coach$")
	w.up()
	soon(t, func() bool { return len(w.chart(runner).SelfChecks) == 1 }, "it was sent")
	tries := w.chart(runner).SelfChecks[0].Tries
	require.Len(t, tries, 2)
	for _, x := range tries {
		assert.True(t, x.Sensor)
		assert.Empty(t, x.Skipped)
		assert.InDelta(t, 172, x.Value, 4)
	}
}

// accelerometer has the browser's sensor show what a phone felt at a time; the 15 s are felt over and over.
func accelerometer(t *testing.T, ph *rod.Page) func(at float64, ms, a []float64) {
	require.NoError(t, proto.EmulationSetSensorOverrideEnabled{Enabled: true, Type: proto.EmulationSensorTypeAccelerometer,
		Metadata: &proto.EmulationSensorMetadata{Available: true}}.Call(ph))
	return func(at float64, ms, a []float64) {
		end := ms[len(ms)-1]
		for at > end {
			at -= end
		}
		i := 0
		for i < len(ms)-1 && ms[i+1] <= at {
			i++
		}
		require.NoError(t, proto.EmulationSetSensorOverrideReadings{Type: proto.EmulationSensorTypeAccelerometer,
			Reading: &proto.EmulationSensorReading{Xyz: &proto.EmulationSensorReadingXYZ{Z: a[i]}}}.Call(ph))
	}
}
