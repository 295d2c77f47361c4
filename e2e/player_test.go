package e2e

import (
	"context"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/crowd"
	"notchback/internal/testkit"
)

// told has a page note what it asks of the phone it runs on.
const told = `(() => {
	window.asked = [];
	navigator.vibrate = (p) => { window.asked.push("buzz"); return true; };
	Object.defineProperty(navigator, "wakeLock", { value: { request: async () => { window.asked.push("awake");
		return { release: async () => { window.asked.push("let go"); } }; } } });
})()`

// player is a phone with a session in the hand. It counts what is tapped.
type player struct {
	*world
	ph   *rod.Page
	taps int
	on   time.Duration // how far the page's clock is ahead
}

// playerOf opens a runner's phone on a day with so many exercises.
func (w *world) playerOf(runner string, exercises int) *player {
	ph := w.open("/phone", 390, 844)
	ph.MustEvalOnNewDocument(told)
	ph.MustNavigate("about:blank")
	ph.MustNavigate("http://" + w.addr + "/phone#" + w.linked(runner))
	reads(w.t, ph, "First steps")
	p := &player{world: w, ph: ph}
	for range 8 {
		p.on = w.nextSession(ph, p.on)
		const byHand = `() => [...document.querySelectorAll("button")].filter((b) => b.textContent === "Enter by hand").length`
		if ph.MustEval(byHand).Int() == exercises {
			return p
		}
		p.on += 24 * time.Hour
	}
	w.t.Fatalf("no day with %d exercises", exercises)
	return nil
}

func (p *player) touch(words string) {
	p.taps++
	choose(p.ph, "[role=dialog] button", words)
}

// pass lets the page's clock run on; the server's does not.
func (p *player) pass(d time.Duration) {
	p.on += d
	p.ph.MustEval(`ms => localStorage.setItem("test shift", String(ms))`, p.on.Milliseconds())
	// The player has looked at the clock since: ten times a second it does.
	p.ph.MustEval(`() => new Promise((done) => setTimeout(done, 250))`)
}

// axe looks at a state of the player in both themes.
func (p *player) axe(state string) { axeBoth(p.t.(*testing.T), p.ph, "player, "+state) }

// shows is what the player is at.
func (p *player) shows() string {
	return p.ph.MustEval(`() => {
		const d = [...document.querySelectorAll("[role=dialog]")].at(-1);
		if (!d) return "nothing";
		const has = (w) => [...d.querySelectorAll("button")].some((b) => b.innerText.trim() === w);
		if ([...d.querySelectorAll("h2")].some((h) => h.innerText.startsWith("How was"))) return "end";
		if (d.querySelector('[aria-label^="Discomfort"]')) return "ask";
		if (has("Start")) return "ready";
		if (has("Go on now")) return "rest";
		return "work";
	}`).Str()
}

// play does what is in hand as planned, up to the page of questions.
func (p *player) play(discomfort string) { p.playTo("The end", discomfort) }

// playTo does it up to where its heading says so.
func (p *player) playTo(heading, discomfort string) {
	for range 400 {
		if p.ph.MustEval(`w => [...document.querySelectorAll("[role=dialog] h2")].some((h) => h.innerText === w)`, heading).Bool() {
			return
		}
		switch p.shows() {
		case "ready":
			p.touch("^Start$")
		case "ask":
			p.taps++
			tap(p.ph.MustElement(`[role=dialog] button[aria-label^="Discomfort"][aria-label$=": ` + discomfort + `"]`))
		}
		p.pass(20 * time.Second)
	}
	p.t.Fatalf("it never ends; it shows %s", text(p.ph))
}

func (p *player) answer(label, n string) {
	p.taps++
	tap(p.ph.MustElement(`[role=dialog] button[aria-label="` + label + `: ` + n + `"]`))
}

// TestASessionIsPlayed: six exercises by the clock, one page of questions, at most fourteen taps beyond the work; what arrives
// is what was done, and what was answered. The phone is asked to stay awake and to buzz.
func TestASessionIsPlayed(t *testing.T) {
	w := start(t)
	runner := w.programmed(testkit.Profile())
	p := w.playerOf(runner, 6)
	p.taps++
	press(p.ph, "^Start the session")
	reads(t, p.ph, "1 of 6", "Good:", "When to stop")
	p.play("4")
	reads(t, p.ph, "How was it?", "Not answered: pain and effort")
	pressed := p.ph.MustEval(`() => document.querySelectorAll('[role=dialog] [aria-pressed="true"]').length`).Int()
	assert.Zero(t, pressed, "nothing is filled in")
	p.answer("Pain, left", "0")
	p.answer("Pain, right", "0")
	p.answer("Effort", "6")
	p.touch("^No$")
	p.touch("^Keep it$")
	assert.LessOrEqual(t, p.taps, 14)
	t.Logf("%d taps for six exercises", p.taps)
	soon(t, func() bool { return len(w.chart(runner).Logs) >= 9 }, "six exercises, most on two sides")
	until(t, p.ph, "has sent everything", allSent)
	o := w.chart(runner)
	seen := map[string]bool{}
	for _, l := range o.Logs {
		d := l.Prescription.Dose
		require.Len(t, l.Done, d.TotalSets(), l.Prescription.Name)
		for _, n := range l.Done {
			assert.Equal(t, d.Amount(), n, l.Prescription.Name)
		}
		assert.Equal(t, 6, l.RPE)
		assert.Equal(t, map[bool]int{true: 4, false: 0}[strings.HasSuffix(l.Prescription.Rail, "_release")], l.Pain, l.Prescription.Rail)
		assert.False(t, seen[l.Prescription.ID], "each once")
		seen[l.Prescription.ID] = true
	}
	asked := strings.Join(strings.Fields(p.ph.MustEval(`() => window.asked.join(" ")`).Str()), " ")
	assert.Contains(t, asked, "awake")
	assert.Contains(t, asked, "buzz")
	assert.True(t, strings.HasSuffix(asked, "let go"), "the screen may sleep again")
}

// TestTheClockOfAHold: a page that nobody looks at for two minutes stands where the clock does, to 0.2 s; paused it stands still.
func TestTheClockOfAHold(t *testing.T) {
	w := start(t)
	runner := w.programmed(testkit.Profile())
	p := w.playerOf(runner, 6)
	w.down()
	inStore(p.ph, `async (d) => {
		const s = d.transaction("bundles", "readwrite").objectStore("bundles");
		const [runner] = await ask(s.getAllKeys());
		const b = await ask(s.get(runner));
		for (const day of b.sessions) for (const i of day.items) for (const side of i.sides) {
			side.course = { sets: 1, repeats: 1, part: "hold", breaks: true, beats: [{ say: "hold", s: 300, to: 100 }] };
			side.dose.amount = 300;
		}
		await ask(s.put(b, runner));
	}`)
	p.ph.MustReload()
	press(p.ph, "^Start the session")
	p.touch("^Start$")
	p.pass(4 * time.Second) // the three of the lead-in and one more
	const reading = `() => { const s = Number(document.querySelector("[role=timer]").dataset.worked); return { s, at: Date.now() / 1000 }; }`
	read := func() (s, at float64) {
		v := p.ph.MustEval(reading)
		return v.Get("s").Num(), v.Get("at").Num()
	}
	const hide = `(v) => { Object.defineProperty(document, "visibilityState", { configurable: true, get: () => v });
		document.dispatchEvent(new Event("visibilitychange")); }`
	before, from := read()
	assert.Greater(t, before, 0.5)
	p.ph.MustEval(hide, "hidden")
	p.pass(2 * time.Minute)
	p.ph.MustEval(hide, "visible")
	p.pass(0)
	after, to := read()
	assert.InDelta(t, to-from, after-before, 0.2)
	assert.Greater(t, after, 120.0)
	p.touch("^Break$")
	p.pass(0)
	stood, _ := read()
	p.pass(time.Minute)
	still, _ := read()
	assert.Equal(t, stood, still)
	p.touch("^Go on$")
	p.pass(5 * time.Second)
	on, _ := read()
	assert.InDelta(t, stood+2.5, on, 1, "three seconds lead in")
}

// A runner of two years opens the page without signal: from the start of the navigation to the drawn session, as shown-ms/op.
func BenchmarkPhoneOffline(b *testing.B) {
	w := launch(b)
	ids, err := crowd.Make(context.Background(), w.desk.Store, testkit.Admin(b, testkit.LastDatabase()), w.desk.Actor, w.desk.Now(), 1, 104)
	require.NoError(b, err)
	ph := w.open("/phone#"+w.linked(ids[0]), 390, 844)
	keptOffline(b, ph)
	w.down()
	total := 0.
	for b.Loop() {
		ph.MustReload()
		total += ph.MustEval(`() => new Promise((done) => {
			const look = () => [...document.querySelectorAll("h2")].some((h) => h.innerText === "Session") &&
				/Start|Nothing planned|may be done/.test(document.body.innerText) ? done(performance.now()) : requestAnimationFrame(look);
			look();
		})`).Num()
	}
	b.ReportMetric(total/float64(b.N), "shown-ms/op")
}

// keptOffline waits until the worker keeps the page and the files it is made of.
func keptOffline(t testing.TB, ph *rod.Page) {
	require.Eventually(t, func() bool {
		v, err := ph.Eval(`async () => {
			if (!(await caches.match("/phone"))) return false;
			for (const r of performance.getEntriesByType("resource"))
				if (r.name.includes("/assets/") && !(await caches.match(r.name))) return false;
			return true;
		}`)
		return err == nil && v.Value.Bool()
	}, 20*time.Second, 50*time.Millisecond)
}

// TestASessionWithoutSignalAtEveryPoint: the network is gone from before the start; the page is closed in the middle of a set and
// before the questions; sending is lost halfway. Each report arrives once, in order.
func TestASessionWithoutSignalAtEveryPoint(t *testing.T) {
	w := start(t)
	runner := w.programmed(testkit.Profile())
	p := w.playerOf(runner, 6)
	keptOffline(t, p.ph)
	w.down()
	p.ph.MustReload()
	press(p.ph, "^Start the session")
	p.touch("^Start$")
	p.pass(10 * time.Second)
	p.ph.MustReload() // in the middle of a set
	press(p.ph, "^Go on with the session")
	reads(t, p.ph, "1 of 6")
	assert.NotEqual(t, "ready", p.shows(), "it goes on by the clock")
	p.play("2")
	p.answer("Pain, left", "3")
	reads(t, p.ph, "Which exercise? Until you say, it counts for all.")
	p.ph.MustReload() // before the questions are answered: what was tapped is kept
	press(p.ph, "^Go on with the session")
	assert.Equal(t, "true", *p.ph.MustElement(`[role=dialog] button[aria-label="Pain, left: 3"]`).MustAttribute("aria-pressed"))
	p.touch("^Keep it as it is$")
	reads(t, p.ph, "Tap the pain of the right side too")
	p.answer("Pain, right", "1")
	p.touch("^One-leg raises, floor$")
	p.answer("Effort", "7")
	p.touch("^No$")
	p.touch("^Keep it$")
	reads(t, p.ph, "not sent yet", "No signal")
	var lose atomic.Bool
	lose.Store(true)
	w.losing(&lose)
	p.ph.MustReload()
	reads(t, p.ph, "not sent yet")
	require.Eventually(t, func() bool { return len(w.chart(runner).Logs) > 0 }, 20*time.Second, 50*time.Millisecond)
	lose.Store(false)
	p.ph.MustReload()
	until(t, p.ph, "has sent everything", allSent)
	logs := w.chart(runner).Logs
	seen := map[string]bool{}
	for i, l := range logs {
		assert.False(t, seen[l.Prescription.ID], "each once")
		seen[l.Prescription.ID] = true
		if i > 0 {
			assert.Greater(t, l.Seq, logs[i-1].Seq)
		}
		switch side := string(l.Prescription.Side); {
		case strings.HasSuffix(l.Prescription.Rail, "_release"):
			assert.Equal(t, 2, l.Pain)
		case side == "right":
			want := map[bool]int{true: 1, false: 0}[l.Prescription.Exercise == "one_floor"]
			assert.Contains(t, []int{want, 1}, l.Pain)
		default:
			assert.Equal(t, map[bool]int{true: 3, false: 0}[l.Prescription.Exercise == "one_floor"], l.Pain, l.Prescription.Exercise)
		}
	}
	assert.GreaterOrEqual(t, len(seen), 9, "six exercises, most on two sides")
}

// TestTooMuch: pain in the middle of a set goes on its way at once with what was reached, ends the exercise, and asks the
// warning signs; what is skipped, and why, is read by the coach; a session that is never answered earns nothing.
func TestTooMuch(t *testing.T) {
	w := start(t)
	runner := w.programmed(testkit.Profile())
	p := w.playerOf(runner, 6)
	press(p.ph, "^Start the session")
	reads(t, p.ph, "1 of 6", "When to stop")
	p.touch("^Start$")
	p.pass(4 * time.Second)
	p.axe("work")
	const at = `() => [...document.querySelectorAll("[role=dialog] h2")].at(-1).innerText`
	for p.ph.MustEval(at).Str() != "One-leg raises, floor" {
		p.touch("^Skip$")
		p.touch("^I am not sure how$")
		p.pass(0)
	}
	p.axe("ready")
	p.touch("^Start$")
	p.pass(3*time.Second + 7*time.Second) // two repetitions of three seconds, and one more
	p.touch("^Too much$")
	p.axe("too much")
	p.taps++
	tap(p.ph.MustElement(`[role=dialog] button[aria-label="How much does it hurt?: 6"]`))
	reads(t, p.ph, "Is any of these so?")
	press(p.ph, "^None of these$")
	soon(t, func() bool { return len(w.chart(runner).Logs) == 1 }, "told at once")
	l := w.chart(runner).Logs[0]
	assert.Equal(t, []int{2, 0}, l.Done)
	assert.Equal(t, 6, l.Pain)
	for p.shows() != "end" {
		p.touch("^Skip$")
		p.touch("^No time$")
		p.pass(0)
	}
	p.axe("end")
	p.touch("^Keep it")
	soon(t, func() bool { return len(w.chart(runner).Notes) == 1 }, "what was skipped")
	assert.Len(t, w.chart(runner).Logs, 1, "the other side was not tried")
	d := w.signedIn()
	reads(t, d, "Note, unread since today", "not sure how", "pain during work is above its limit")
	d.MustNavigate("http://" + w.addr + "/runners/" + runner + "/adjust")
	reads(t, d, "Unread note", "not sure how", "no time")
	press(d, "^I have read it$")
	until(t, d, "is read", `() => !document.body.innerText.includes("Unread note")`)
	write(d, "To the runner, on the phone with the next contact", "Stop at two for now.\nSee you Friday.")
	press(d, "^Send the note$")
	reads(t, d, "See you Friday.")
	p.ph.MustReload()
	reads(t, p.ph, "Notes", "See you Friday.")
	press(p.ph, "^Write to your coach$")
	reads(t, p.ph, "First: anything new or odd?")
	press(p.ph.MustElement(`section[aria-label="Notes"]`).Page(), "^No$")
	reads(t, p.ph, "Notes are not read at once.")
	write(p.ph, "To your coach", "Will do <b>.")
	press(p.ph, "^Send the note$")
	reads(t, p.ph, "Will do <b>.")
	soon(t, func() bool { return len(w.chart(runner).Notes) == 3 }, "it is there")
}

// write writes into a box of several lines.
func write(p *rod.Page, label, words string) {
	p.MustElementByJS(`l => [...document.querySelectorAll("label")].find((x) => x.innerText.startsWith(l))?.querySelector("textarea")`, label).
		MustInput(words)
}
