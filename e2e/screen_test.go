package e2e

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/screen"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// keys drives a page by keyboard alone.
type keys struct {
	t *testing.T
	p *rod.Page
}

// to tabs on until the focus stands on what the words describe: its label or its text.
func (k keys) to(words string) {
	k.t.Helper()
	const js = `w => { const a = document.activeElement; if (!a || a === document.body) return false;
		const group = a.closest("[role=group]")?.getAttribute("aria-label") ?? "";
		const label = (a.getAttribute("aria-label") ?? a.closest("label")?.querySelector("span")?.textContent
			?? a.innerText ?? "").trim().replace(/\s+/g, " ");
		return label.startsWith(w) || (group + " > " + label).startsWith(w); }`
	for range 500 {
		if k.p.MustEval(js, words).Bool() {
			return
		}
		k.p.Keyboard.MustType(input.Tab)
	}
	k.t.Fatalf("the keyboard never reaches %q; the page shows:\n%s", words, text(k.p))
}

func (k keys) press(words string, key input.Key) {
	k.t.Helper()
	k.to(words)
	k.p.Keyboard.MustType(key)
}

func (k keys) enter(words, value string) {
	k.t.Helper()
	k.to(words)
	k.p.MustInsertText(value)
	n := len(k.p.MustElements(`button[aria-label^="Remove"]`))
	k.p.Keyboard.MustType(input.Enter)
	until(k.t, k.p, "has kept "+words, kept, n+1)
}

// answer keeps an option of a class or score.
func (k keys) answer(measure, side, option string) {
	k.t.Helper()
	n := len(k.p.MustElements(`button[aria-label^="Remove"]`))
	k.press(measure+", "+side+" > "+option, input.Space)
	until(k.t, k.p, "has kept "+measure, kept, n+1)
}

func (k keys) next(name string) {
	k.t.Helper()
	k.p.Keyboard.MustType(input.PageDown)
	until(k.t, k.p, "is the station "+name, `n => document.querySelector("h1")?.innerText.trim() === n`, name)
}

// TestACoreScreenByKeyboard takes the whole core screen without a pointer: warning signs, every
// station, a stopwatch started and stopped by space, to the ranked findings.
func TestACoreScreenByKeyboard(t *testing.T) {
	w := start(t)
	runner := w.desk.Runner(t, testkit.Profile())
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/screen")
	reads(t, p, "Warning signs", "Core screen")
	k := keys{t, p}
	k.press("No to the rest", input.Enter)
	reads(t, p, "all asked")
	k.press("Keep the answers", input.Enter)
	until(t, p, "may start", `() => [...document.querySelectorAll("button")].some((b) => b.innerText === "Start the core screen" &&
		!b.disabled)`)
	k.press("Start the core screen", input.Enter)
	until(t, p, "is at the first station", `() => document.querySelector("h1")?.innerText.trim() === "Feet at rest"`)
	both := func(measure, option string) {
		k.answer(measure, "left", option)
		k.answer(measure, "right", option)
	}
	both("Arch, two fingers", "partly")
	both("Toes at rest", "straight")
	both("Light touch of the sole", "every touch felt")
	k.next("Walks")
	for _, walk := range []string{"Walk on the heels", "Walk on the forefeet"} {
		for _, side := range []string{"left", "right"} {
			n := len(p.MustElements(`button[aria-label^="Remove"]`))
			k.press(walk+", "+side+": 0", input.Enter)
			until(t, p, "has kept the walk", kept, n+1)
		}
	}
	k.next("Gait")
	k.answer("Posture running", "both", "tall")
	k.answer("Hips", "both", "sat back")
	for _, n := range []string{"40", "41", "40"} { // 162, 166, 162 steps a minute
		k.enter("Footfalls counted in 15 s", n)
	}
	k.answer("Bounce", "both", "1 ·")
	k.answer("Sound of landing", "both", "2 ·")
	both("Foot strike, by eye", "rearfoot")
	// Mean 163.3; t·s/√3 = 4.303 × 2.309 / 1.732 = 5.7 (Student's t, 2 degrees of freedom).
	choose(p, "[role=button]", "^163.3 spm$")
	reads(t, p, "163.3 spm ◣ short", "40 after the first: 4 × 40 + 2 = 162 ± 2", "max(t·s/√3, 2) = ± 5.7")
	fromAnkleToRaises(t, p, k, both)
	reads(t, p, "21 of 21 measures")
	k.press("Finish and read", input.Enter)
	until(t, p, "is the room Read", `() => document.querySelector("h1")?.innerText.trim() === "Read"`)
	// A heel strike at easy pace is a finding only together with what stands here, and comes last.
	reads(t, p, "1 Cadence and landing", "2 Calf capacity", "3 Arch strength", "The gait, down the chain",
		"Begin here. Hips forward over the foot", "After what stands above. A result of everything above; never a thing to force.")
	choose(p, "[role=button]", "^rearfoot$")
	reads(t, p, "together with low cadence and a loud landing is a finding; the remedy is the chain, not the strike")
}

// fromAnkleToRaises takes the stations after gait.
func fromAnkleToRaises(t *testing.T, p *rod.Page, k keys, both func(measure, option string)) {
	k.next("Ankle")
	for _, side := range []string{"left", "right"} {
		for _, v := range []string{"9", "9.5", "10"} {
			k.enter("Knee to wall, "+side, v)
		}
	}
	both("What stops the bend", "stretch behind")
	k.next("Big toe")
	for _, side := range []string{"left", "right"} {
		k.enter("Big toe lifted by itself, "+side, "30")
	}
	for _, side := range []string{"left", "right"} {
		k.enter("Big toe lifted with a finger, "+side, "36")
	}
	k.next("Toe control")
	both("Big toe alone", "3 ·")
	both("Big-toe press", "2 ·")
	both("Short foot", "1 ·")
	k.next("Balance")
	p.MustEval(`() => document.activeElement.blur()`)
	p.Keyboard.MustType(input.Space) // with nothing in hand it goes to the first instrument that waits
	until(t, p, "counts in and runs", `() => { const b = document.querySelector('button[aria-label^="Stop the stopwatch"]'); return b &&
		Number(b.innerText) > 0.3 && b.innerText.includes("."); }`)
	p.Keyboard.MustType(input.Space)
	until(t, p, "shows the time held", `() => Number(document.activeElement.value) > 0.3`)
	p.Keyboard.MustType(input.Enter)
	until(t, p, "has kept the hold", kept, 1)
	for _, v := range []string{"45", "45"} {
		k.enter("One leg, eyes open, left", v)
	}
	for _, v := range []string{"45", "45", "45"} {
		k.enter("One leg, eyes open, right", v)
	}
	k.next("Squat")
	both("Squat: arch collapses", "no")
	k.next("Heel raises")
	for _, side := range []string{"left", "right"} {
		k.to("One-leg heel raises, straight knee, " + side + ", count")
		p.Keyboard.MustType(input.End)
		p.Keyboard.MustType(input.Backspace)
		p.MustInsertText("14")
		n := len(p.MustElements(`button[aria-label^="Remove"]`))
		k.press("height lost", input.Enter)
		until(t, p, "has kept the count", kept, n+1)
	}
}

// TestTheIntakeFormByTouch fills in the form through the private link with fingers alone, on a phone;
// the coach takes it over and saves it.
func TestTheIntakeFormByTouch(t *testing.T) {
	w := start(t)
	ctx := context.Background()
	bare := body.NewProfile()
	bare.BirthDate = "1990-02-03"
	runner := w.desk.Runner(t, bare)
	token := store.NewToken()
	require.NoError(t, w.desk.Store.In(ctx, w.desk.Actor.Practice, func(tx *store.Tx) error {
		return tx.AddLink(ctx, runner, store.NewID(), store.Hash(token), time.Now().Add(time.Hour))
	}))
	ph := w.open("/phone#"+token, 390, 844)
	require.NoError(t, proto.EmulationSetTouchEmulationEnabled{Enabled: true}.Call(ph))
	ph.MustElementR("a", "Fill in the form before we meet").MustTap()
	reads(t, ph, "Before we meet", "First: is any of these so?")
	assert.LessOrEqual(t, ph.MustEval(`() => document.documentElement.scrollWidth`).Int(), 390, "nothing scrolls sideways")
	type_ := func(label, v string) {
		el := field(ph, label)
		el.MustTap()
		el.MustSelectAllText()
		ph.MustInsertText(v)
	}
	type_("Body mass", "seventy")
	type_("Height", "172")
	touch := func(place string) {
		at := ph.MustElement(`[aria-label="` + place + `"]`).MustEval(`() => { this.scrollIntoView({ block: "center" });
			const r = this.getBoundingClientRect(); return { x: r.x + r.width / 2, y: r.y + r.height / 2, size: Math.min(r.width, r.height) }; }`)
		assert.GreaterOrEqual(t, at.Get("size").Num(), 24.0, "a finger finds it")
		ph.Touch.MustTap(at.Get("x").Num(), at.Get("y").Num())
	}
	everyPlaceIsOnTheMap(t, ph)
	touch("left heel (sole), sole")
	touch("right shin, leg from the front")
	reads(t, ph, "Left heel (sole)", "Right shin")
	pick := func(group, value string) {
		ph.MustElement(`[aria-label="`+group+`"]`).MustElementR("button", "^"+value+"$").MustTap()
	}
	pick("Worst pain, left heel (sole)", "5")
	pick("Usual pain, left heel (sole)", "3")
	pick("Worst pain, right shin", "4")
	pick("Usual pain, right shin", "1")
	ph.MustElementR("button", "first steps in the morning").MustTap()
	ph.MustElementR("label", "Clot history").MustElement("button").MustTap()
	reads(t, ph, "No pressure anywhere")
	type_("Minutes a week", "120")
	ph.MustElementR("button", "^Send to my coach$").MustTap()
	reads(t, ph, "“seventy” is not a number") // refused, and nothing typed is lost
	assert.Equal(t, "172", field(ph, "Height").MustProperty("value").Str())
	type_("Body mass", "700")
	ph.MustElementR("button", "^Send to my coach$").MustTap()
	reads(t, ph, "is 700; enter 20 to 250 kg")
	type_("Body mass", "70")
	ph.MustReload() // a dead battery loses nothing
	reads(t, ph, "Before we meet")
	assert.Equal(t, "120", field(ph, "Minutes a week").MustProperty("value").Str())
	ph.MustElementR("button", "^Send to my coach$").MustTap()
	reads(t, ph, "Sent. Your coach reads it before you meet.")

	takenOver(t, w, runner)
}

// everyPlaceIsOnTheMap, on each side.
func everyPlaceIsOnTheMap(t *testing.T, ph *rod.Page) {
	for _, side := range body.Sides {
		for _, r := range body.RegionNames {
			if r.ID == body.WholePerson {
				continue
			}
			name := strings.TrimSuffix(strings.ReplaceAll(r.Name, "outer edge of the foot", "outer edge"), "?")
			assert.NotEmpty(t, ph.MustElements(`path[role=button][tabindex="0"][aria-label^="`+string(side)+` `+name+`,"]`),
				"%s %s is not on the map", side, r.Name)
		}
	}
}

// takenOver: the coach takes the form over and saves it.
func takenOver(t *testing.T, w *world, runner string) {
	ctx := context.Background()
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/intake")
	reads(t, p, "filled in the form", "form to read")
	o, err := w.desk.Chart(ctx, w.desk.Actor, runner)
	require.NoError(t, err)
	assert.Empty(t, o.Profile.Symptoms, "nothing is stored before the coach saves")
	press(p, "^Take it over$")
	reads(t, p, "Left heel (sole)", "Right shin")
	press(p, "^Save the intake$")
	reads(t, p, "Saved. Next: the screen.", "No pressure anywhere")
	until(t, p, "has no form waiting", `() => !document.body.innerText.includes("filled in the form")`)
	o, err = w.desk.Chart(ctx, w.desk.Actor, runner)
	require.NoError(t, err)
	require.Len(t, o.Profile.Symptoms, 2)
	assert.Equal(t, body.Symptom{Region: body.HeelSole, Side: body.Left, Worst: 5, Baseline: 3, When: body.Times{"first_steps"}},
		o.Profile.Symptoms[0])
	assert.Equal(t, 70.0, o.Profile.MassKg)
	assert.Empty(t, o.Forms)
}

// TestInstruments: the inclinometer fills the box once held still, a plate stack adds up, a removed
// trial is put back, an easier test comes first, and a second coach's entry arrives by itself.
func TestInstruments(t *testing.T) {
	w := start(t)
	runner := w.desk.Runner(t, testkit.Profile())
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/screen")
	until(t, p, "asks the warning signs", `() => document.body.innerText.includes("No to the rest")`)
	askSigns(t, p)
	choose(p, "[role=radio]", "Quick test") // the wrong one
	press(p, "Start the quick test")
	press(p, "^Put this screen away$")
	startFull(t, p)
	station(t, p, "Ankle")
	tap(section(p, "Lunge, shin angle").MustElementR("button", "^Inclinometer .simulated.$"))
	// The stand-in's left leg ends at 33.5° with a tremor of 0.3°.
	until(t, p, "takes the angle once it is held",
		`() => Math.abs(Number(document.querySelector('input[aria-label^="Lunge, shin angle, left"]').value) - 33.5) < 0.6`)
	box := p.MustElement(`input[aria-label^="Lunge, shin angle, left"]`)
	box.MustType(input.Enter)
	reads(t, p, "mean 33")
	tap(p.MustElement(`button[aria-label^="Remove"]`))
	reads(t, p, "Removed from Lunge, shin angle, left.")
	press(p, "^Put back$")
	until(t, p, "has it back", kept, 1)

	station(t, p, "Big toe")
	part := section(p, "Big toe lifted with a finger")
	for _, mm := range []string{"5", "10", "15"} { // plates of 5, 10 and 20 mm
		tap(part.MustElementR("button", "^Higher: "+mm+" mm$"))
	}
	reads(t, p, "Take the plates 5 + 10 mm.", "Higher: 20 mm", "Lower: 10 mm")
	assert.Equal(t, "15", part.MustElement(`input[aria-label^="Big toe lifted with a finger, left"]`).MustProperty("value").Str())

	station(t, p, "Balance")
	reads(t, p, "eyes closed only after eyes open is steady")
	for _, side := range []string{"left", "right"} {
		keepTrial(t, p, "One leg, eyes open", side, "44")
	}
	until(t, p, "opens the harder test", `() => !document.body.innerText.includes("eyes closed only after eyes open is steady")`)

	elsewhere(t, w, p, runner)
}

// elsewhere: a colleague enters at the same time on another device; a screen broken off is resumed on another.
func elsewhere(t *testing.T, w *world, p *rod.Page, runner string) {
	ctx := context.Background()
	// A colleague enters at the same time on another device; both stand there.
	o, err := w.desk.Chart(ctx, w.desk.Actor, runner)
	require.NoError(t, err)
	require.NoError(t, w.desk.Try(ctx, runner, o.Screens[0].ID,
		screen.Trial{ID: store.NewID(), Measure: "balance.open", Side: body.Left, Value: 41}))
	reads(t, p, "41 s")

	station(t, p, "Walks")
	tap(p.MustElement(`button[aria-label="Walk on the heels, left: 3"]`))
	reads(t, p, "Where? Tap the place.")
	p.MustEval(`() => document.querySelector('[aria-label="left heel (sole), sole"]').dispatchEvent(new MouseEvent("click", {
		bubbles: true }))`)
	reads(t, p, "3 of 10")

	// Broken off and resumed on another device.
	q := w.signedIn()
	q.MustNavigate("http://" + w.addr + "/runners/" + runner + "/screen")
	reads(t, q, "Feet at rest", "of 60 measures")
	station(t, q, "Walks")
	reads(t, q, "3 of 10")
}

// TestARetestHidesTheLastValue until the new one is in, then says better, same or worse by the
// smallest real change.
func TestARetestHidesTheLastValue(t *testing.T) {
	w := start(t)
	runner := w.desk.Runner(t, testkit.Profile())
	w.desk.Screen(t, runner, map[string]float64{"ankle.knee_to_wall": 7, "balance.open": 30})
	w.shift(w.signedIn(), 29*24*time.Hour)
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/screen")
	reads(t, p, "Retest", "2 due")
	askSigns(t, p)
	press(p, "Start the retest")
	until(t, p, "is at the ankle", `() => document.querySelector("h1")?.innerText.trim() === "Ankle"`)
	assert.NotContains(t, text(p), "7.0 cm", "the last value is hidden")
	keepTrial(t, p, "Knee to wall", "left", "9")
	// 9 − 7 = 2 cm is past MDC = 1.96 × √2 × 0.5 = 1.39 cm; 8 − 7 = 1 cm is not.
	reads(t, p, "7.0 cm ▲ better")
	keepTrial(t, p, "Knee to wall", "right", "8")
	reads(t, p, "7.0 cm = same")
	press(p, "Finish and read")
	until(t, p, "is the room Read", `() => document.querySelector("h1")?.innerText.trim() === "Read"`)
	choose(p, "nav a", "Retest")
	reads(t, p, "1 ▲ better", "Knee to wall")
	choose(p, "[role=button]", "^9.0 cm$")
	reads(t, p, "9.0 − 7.0 = +2 against ± 1.4")
}

// TestASignBeforeTheScreen: a yes at the screen locks what it touches, the rest goes on, and the
// referral note says so in plain words.
func TestASignBeforeTheScreen(t *testing.T) {
	w := start(t)
	runner := w.desk.Runner(t, testkit.Profile())
	w.desk.Screen(t, runner, testkit.Usual)
	w.shift(w.signedIn(), 48*time.Hour)
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/screen")
	reads(t, p, "First the warning signs")
	sign := p.MustElementR("li", "A fresh twist")
	tap(sign.MustElementR("button", "Yes"))
	dialog := p.MustElement(`[role="alertdialog"]`)
	tap(dialog.MustElementR("button", "rear edge or tip of the outer ankle bone"))
	tap(dialog.MustElementR("button", "^left$"))
	press(p, "Record and lock")
	reads(t, p, "Locked: A fresh twist", "left outer ankle")
	press(p, "No to the rest")
	press(p, "Keep the answers")
	choose(p, "[role=radio]", "Core screen")
	press(p, "Start the core screen")
	// The wall test stands on both legs; toe control is tried sitting, one foot alone.
	station(t, p, "Ankle")
	until(t, p, "shuts the wall test on both", `() => document.querySelectorAll('input[aria-label^="Knee to wall"]').length === 0`)
	reads(t, p, "the left leg is locked: a warning sign is open")
	station(t, p, "Toe control")
	until(t, p, "shuts the left foot alone",
		`() => /left\s*(⬣\s*)?not now/i.test(document.body.innerText) && !/right\s*(⬣\s*)?not now/i.test(document.body.innerText)`)
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/referral")
	reads(t, p, "Referral note", "outer ankle", "please decide on imaging of the ankle", "Training of this leg is stopped, and all running",
		"Knee to wall, left: 7.0 cm, usual at least 10.0 cm", "It is not a diagnosis")
	pdf, err := p.PDF(&proto.PagePrintToPDF{PrintBackground: true})
	require.NoError(t, err)
	b := make([]byte, 1<<20)
	n, _ := pdf.Read(b)
	assert.Equal(t, "%PDF", string(b[:4]), "%d bytes", n)
	assert.Equal(t, 1, strings.Count(string(read(t, p)), "/Type /Page\n"), "one sheet")
}

// read prints the page once more and returns the whole file.
func read(t *testing.T, p *rod.Page) []byte {
	r, err := p.PDF(&proto.PagePrintToPDF{})
	require.NoError(t, err)
	out := []byte{}
	buf := make([]byte, 64<<10)
	for {
		n, err := r.Read(buf)
		out = append(out, buf[:n]...)
		if err != nil {
			return out
		}
	}
}
