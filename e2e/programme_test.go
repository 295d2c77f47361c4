package e2e

import (
	"io"
	"maps"
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/permit/plain"
	"notchback/internal/testkit"
)

// card finds a chosen rail on the Build page.
func card(p *rod.Page, rail string) *rod.Element {
	return p.MustElementByJS(`n => [...document.querySelectorAll("main li")].find((x) =>
		x.querySelector("h2")?.innerText.startsWith(n)) ?? null`, rail)
}

// setNotch chooses a notch for a side of an opened rail by its words.
func setNotch(t testing.TB, p *rod.Page, side, words string) {
	t.Helper()
	until(t, p, "offers "+words, `(l, w) => {
		const label = [...document.querySelectorAll("label")].find((x) => x.querySelector("span")?.innerText.trim() === l);
		const s = label?.querySelector("select");
		const o = s && [...s.options].find((x) => x.text.startsWith(w) && !x.disabled);
		if (!o) return false;
		Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(s, o.value);
		s.dispatchEvent(new Event("change", { bubbles: true }));
		return true;
	}`, "Notch, "+side, words)
}

// isRail reports whether a button of the week is of the rail with that short name, and not of one that begins alike.
const isRail = `new RegExp("^" + r + "(\\s*$|\\s*\\n|\\s+[0-9])").test(b.innerText.trim())`

// sessionAt is the button of a rail on a weekday of the week's table.
const sessionAt = `(r, day) => [...document.querySelectorAll("td[data-cell^='" + day + " '] button")].find((b) => ` + isRail + `) ?? null`

func standsOn(t testing.TB, p *rod.Page, rail string) int {
	t.Helper()
	until(t, p, "holds "+rail, `r => [...document.querySelectorAll("td[data-cell] button")].some((b) => `+isRail+`)`, rail)
	return p.MustEval(`r => Number([...document.querySelectorAll("td[data-cell] button")].find((b) =>
		`+isRail+`).closest("td").dataset.cell[0])`, rail).Int()
}

// TestTheCoachsHandOnTheProgramme: build, edit by hand, compare two drafts, put into force, move a session
// into a forbidden place (refused with the reason) and into a free one, take it back, build again with
// everything kept, and print.
func TestTheCoachsHandOnTheProgramme(t *testing.T) {
	w := start(t)
	profile := testkit.Profile()
	profile.Runs = []body.FixedRun{{Weekday: 1, Minutes: 45, Quality: "quality"}, {Weekday: 4, Minutes: 40, Quality: "easy"}}
	runner := w.screened(profile)
	p := w.signedIn()
	base := "http://" + w.addr + "/runners/" + runner
	p.MustNavigate(base + "/build")
	reads(t, p, "Calf, straight knee", "One-leg raises, floor", "2 × 4", "Next: Wake ends at score 2 in toe control and short foot",
		"every session has its place")

	press(p, "Put this draft aside to compare")
	reads(t, p, "The two are the same so far")
	tap(card(p, "Calf, straight knee").MustElementR("button", "^Change$"))
	fill(p, "A word why", "sore after the hills")
	p.MustEval(`() => document.activeElement.blur()`)
	setNotch(t, p, "left", "One-leg raises, floor: 2 × 8")
	reads(t, p, "▾ by hand", "left: One-leg raises, floor, 2 × 8; right: One-leg raises, floor, 2 × 4")
	tap(card(p, "Calf, straight knee").MustElementR("[role=button]", "^2 × 8$"))
	reads(t, p, "set by the coach", "the tests would start at", "sore after the hills")
	tap(card(p, "Calf, straight knee").MustElementR("button", "^Done$"))

	// A rail left out, another brought in; what is impossible says why.
	tap(card(p, "Big-toe range and control").MustElementR("button", "Leave out"))
	choose(p, "summary", "Left out")
	reads(t, p, "left out by the coach", "left out: needs a roller")
	until(t, p, "brings it in",
		`() => { const b = document.querySelector('button[aria-label="Bring in Sole release"]'); b?.click(); return !!b; }`)
	until(t, p, "brought it in", `() => [...document.querySelectorAll("main li h2")].some((h) => h.innerText.includes("Sole release"))`)
	reads(t, p, "brought in by the coach")
	reads(t, p, "Big-toe range and control")
	press(p, "Put into force")
	until(t, p, "is the week", `() => document.querySelector("h1")?.innerText.trim() === "Week"`)
	reads(t, p, "One-leg raises, floor, 2 × 8", "Days ahead")
	assert.NotContains(t, p.MustElement("table").MustText(), "Big toe")

	free := movedByHand(t, p, runner)

	// Building again keeps what was set by hand.
	p.MustNavigate(base + "/build")
	reads(t, p, "Build again and put into force", "▾ by hand", "One-leg raises, floor", "Sole release")
	tap(card(p, "Calf, straight knee").MustElementR("button", "^Change$"))
	until(t, p, "shows the notch that was set", `() => [...document.querySelectorAll("select")].some(
		(s) => s.selectedOptions[0]?.textContent === "One-leg raises, floor: 2 × 8")`)
	press(p, "Build again and put into force")
	until(t, p, "is the week", `() => document.querySelector("h1")?.innerText.trim() === "Week"`)
	reads(t, p, "One-leg raises, floor, 2 × 8")
	until(t, p, "kept the moved session", `c => document.querySelector('td[data-cell="' + c + '"]')?.innerText.includes("▾")`, free)
	assert.NotContains(t, p.MustElement("table").MustText(), "Big toe")

	onPaper(t, p, runner)
}

// onPaper prints the week and fetches the files.
func onPaper(t *testing.T, p *rod.Page, runner string) {
	// On paper.
	choose(p, "a", "Print the week")
	reads(t, p, "The exercises", "Stop at:", "This is coaching, not medical care", "enough on a day with five minutes")
	p.MustElement(`svg[aria-label^="Set-up of"]`)
	pdf, err := p.PDF(&proto.PagePrintToPDF{PreferCSSPageSize: true})
	require.NoError(t, err)
	printed, err := io.ReadAll(pdf)
	require.NoError(t, err)
	assert.Contains(t, string(printed), "/MediaBox [0 0 594", "A4")
	press(p, "^Letter$")
	until(t, p, "is on Letter", `() => !!document.querySelector(".paper-letter")`)
	pdf, err = p.PDF(&proto.PagePrintToPDF{PreferCSSPageSize: true})
	require.NoError(t, err)
	printed, err = io.ReadAll(pdf)
	require.NoError(t, err)
	assert.Contains(t, string(printed), "/MediaBox [0 0 612 792]", "Letter")

	// The files.
	for path, start := range map[string]string{"/hand-out.pdf?paper=A4": "%PDF-", "/calendar.ics": "BEGIN:VCALENDAR\r\n",
		"/doses.csv": "\ufeffrail,side"} {
		got := p.MustEval(`async path => { const a = await fetch(path); return a.status + " " + new TextDecoder("utf-8",
			{ignoreBOM: true}).decode((await a.arrayBuffer()).slice(0, 40)); }`, "/api/runners/"+runner+path).Str()
		assert.True(t, strings.HasPrefix(got, "200 "+start), "%s: %q", path, got)
	}
}

// movedByHand moves a session into a forbidden place (refused with the reason) and into a free one, and takes it back.
func movedByHand(t *testing.T, p *rod.Page, runner string) (free string) {
	// By keyboard: onto the quality run's day, refused while it is held and when it is put down.
	from := standsOn(t, p, "Calf")
	el := p.MustElementByJS(sessionAt, "Calf", from)
	el.MustFocus()
	p.Keyboard.MustType(input.Enter)
	reads(t, p, "Calf is picked up")
	p.MustElement("td.hatched")
	for range from - 1 {
		p.Keyboard.MustType(input.ArrowLeft)
	}
	for range 2 {
		p.Keyboard.MustType(input.ArrowDown)
	}
	reads(t, p, "heavy calf work does not stand on the day of a quality run (Tuesday)")
	p.Keyboard.MustType(input.Enter)
	reads(t, p, "Calf stays where it was. Tuesday, evening: heavy calf work does not stand on the day of a quality run (Tuesday).")
	assert.Equal(t, from, standsOn(t, p, "Calf"))

	// By pointer: the same refusal, then a place that is free.
	drag := func(rail string, from int, cell string) {
		a := p.MustElementByJS(sessionAt, rail, from)
		a.MustScrollIntoView()
		at := a.MustShape().OnePointInside()
		p.Mouse.MustMoveTo(at.X, at.Y)
		p.Mouse.MustDown(proto.InputMouseButtonLeft)
		until(t, p, "is weighed", `c => !!document.querySelector("td.hatched") && !!document.querySelector('td[data-cell="' + c + '"]')`, cell)
		box := p.MustElement(`td[data-cell="` + cell + `"]`).MustShape().Box()
		p.Mouse.MustMoveTo(box.X+box.Width/2, box.Y+min(box.Height/2, 60))
		p.Mouse.MustMoveTo(box.X+box.Width/2+2, box.Y+min(box.Height/2, 60))
		p.Mouse.MustUp(proto.InputMouseButtonLeft)
	}
	drag("Calf", from, "0 own")
	reads(t, p, "Calf stays where it was. Monday, own session: heavy calf work does not stand the day before a quality run (Tuesday).")
	ankle := standsOn(t, p, "Ankle bend")
	free = p.MustEval(`async (runner, from) => {
		const a = await fetch("/api/runners/" + runner + "/week/moves?rail=ankle_bend&from=" + from);
		const c = (await a.json()).find((x) => x.refused === "" && x.weekday !== from);
		return c.weekday + " " + c.slot;
	}`, runner, ankle).Str()
	drag("Ankle bend", ankle, free)
	reads(t, p, "Ankle bend moved to", "is kept there")
	until(t, p, "shows it there, marked", `c => document.querySelector('td[data-cell="' + c + '"]').innerText.includes("▾")`, free)

	// Taken back, and moved again.
	press(p, "Undo the last move")
	reads(t, p, "Taken back.")
	until(t, p, "shows it as before", `c => !document.querySelector("table").innerText.includes("▾")`)
	drag("Ankle bend", ankle, free)
	reads(t, p, "Ankle bend moved to")
	return free
}

// TestTheLibrary: found by sore place, kit and words; a rail of the practice's own is refused with what is
// wrong beside the field, kept when mended, given to a runner, retired; a shipped rail is changed and
// taken back.
func TestTheLibrary(t *testing.T) {
	w := start(t)
	runner := w.screened(testkit.Profile())
	open := maps.Clone(plain.Passed) // a rail of one's own is as hard as it could be: bare strength, behind its gate
	open["squat.arch"], open["sole.touch"] = 0, 0
	w.desk.Screen(t, runner, open)
	p := w.signedIn()
	choose(p, "nav a", "^Library$")
	reads(t, p, everyRail(0), "Toe-extended calf raise", "Gait drills")
	fill(p, "Words", "towel")
	until(t, p, "narrows", `() => { const n = parseInt(document.querySelector("[role=status]").innerText); return n > 0 && n < 10; }`)
	fill(p, "Words", "nothing like it")
	reads(t, p, "No rail fits all of that.")
	press(p, "Show all again")
	press(p, "^spring$")
	until(t, p, "narrows to spring", `() => document.querySelector("main").innerText.includes("Fascia rocks") &&
		!document.querySelector("main").innerText.includes("Toe control")`)
	press(p, "spring$")
	choose(p, "button", "^Calf, straight knee")
	reads(t, p, "Heavy slow raises", "3 × 15 at 15 RM for 7 days", "Beyer et al. 2015", "published, quoted from memory",
		"then its two highest for each further weight owned")
	p.MustElement(`svg[aria-label="Set-up of One-leg raises off a step"]`)

	press(p, "^Add a rail$")
	reads(t, p, "A rail of our own")
	fill(p, "Name", "Sand walks")
	press(p, "Keep for our practice")
	reads(t, p, "exercises: are none; a rail needs at least one")
	press(p, "Add an exercise")
	for _, place := range []string{"arch", "calf"} {
		press(p, "^"+place+"$")
	}
	write := func(label, words string) {
		until(t, p, "takes "+label, `(l, v) => {
			const x = [...document.querySelectorAll("label")].find((x) =>
				x.querySelector("span")?.innerText.trim() === l)?.querySelector("textarea");
			if (!x) return false;
			Object.getOwnPropertyDescriptor(HTMLTextAreaElement.prototype, "value").set.call(x, v);
			x.dispatchEvent(new Event("input", { bubbles: true }));
			return true;
		}`, label, words)
	}
	write("Faults, one a line", "toes grip")
	write("Doses, low to high, one a line", "2 x 20 paces\n1 x 20 paces")
	write("Set-up", "Firm wet sand, barefoot, at low water.")
	write("Cues, one to four lines", "Quiet feet")
	write("What good looks like", "Prints of one depth.")
	press(p, "Keep for our practice")
	reads(t, p, "“1 × 20 paces” is no harder than “2 × 20 paces” before it")
	write("Doses, low to high, one a line", "2 x 20 paces\n3 x 20 paces")
	press(p, "Keep for our practice")
	reads(t, p, everyRail(1), "Sand walks", "our own", "changed by Test Coach")

	givenAndRetired(t, w, p, runner)
}

// givenAndRetired: a runner gets the rail; retired, it is offered no more. A shipped rail changes its name and gets it back.
func givenAndRetired(t *testing.T, w *world, p *rod.Page, runner string) {
	// A runner gets it.
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/build")
	choose(p, "summary", "Left out")
	until(t, p, "brings it in",
		`() => { const b = document.querySelector('button[aria-label="Bring in Sand walks"]'); b?.click(); return !!b; }`)
	until(t, p, "has it", `() => [...document.querySelectorAll("main li h2")].some((h) => h.innerText.includes("Sand walks"))`)
	reads(t, p, "2 × 20 paces")

	// Retired, it is offered no more; a shipped rail changes its name and gets it back.
	choose(p, "nav a", "^Library$")
	choose(p, "button", "^Sand walks")
	press(p, "^Retire$")
	reads(t, p, "retired", "Bring back")
	choose(p, "button", "^Foot circles")
	press(p, "Change for our practice")
	fill(p, "Name", "Waking the foot")
	press(p, "Keep for our practice")
	reads(t, p, "Waking the foot", "As it ships again")
	press(p, "As it ships again")
	reads(t, p, "Foot circles")
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/build")
	choose(p, "summary", "Left out")
	assert.NotContains(t, text(p), "Sand walks")
}

// TestOnlyFiveMinutes: the phone cuts the session to what matters most, and keeps it as shown.
func TestOnlyFiveMinutes(t *testing.T) {
	w := start(t)
	p := w.signedIn()
	ph := w.phoneOfANewRunner(p, "Short of Time")
	w.shift(ph, w.trainingDay(ph))
	ph.MustReload()
	reads(t, ph, "Session", "Only 5 minutes")
	until(t, ph, "shows the session", sessionIn)
	items := func() int { return ph.MustEval(`() => document.querySelectorAll("main li h3").length`).Int() }
	all := items()
	press(ph, "Only 5 minutes")
	reads(t, ph, "the short version is on")
	assert.LessOrEqual(t, items(), all)
	tap(ph.MustElementR("button", "^Enter by hand$"))
	logAsPlanned(t, ph)
	until(t, ph, "has sent everything", allSent)
}
