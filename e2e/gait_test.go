package e2e

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/gait"
	"notchback/internal/core/house"
	"notchback/internal/standin"
	"notchback/internal/testkit"
)

// gaitRoom opens the gait room of a runner built like the stand-in's.
func (w *world) gaitRoom(p *rod.Page) {
	profile := testkit.Profile()
	profile.LegMm, profile.HeightCm, profile.MassKg = standin.LegMm, standin.HeightCm, 70
	runner := w.desk.Runner(w.t, profile)
	w.desk.Begin(w.t, runner)
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/gait")
	reads(w.t, p, "Open a clip")
}

// simulated opens one of the clips that ship.
func simulated(t testing.TB, p *rod.Page, name string) standin.Film {
	f, ok := standin.Find(name)
	require.True(t, ok)
	press(p, "Practise on a simulated clip")
	choose(p, "li button", "^"+name)
	at(t, p, 0)
	p.MustEval(`() => document.activeElement?.blur()`)
	return f
}

// at waits until the frame is on show.
func at(t testing.TB, p *rod.Page, frame int) {
	t.Helper()
	until(t, p, fmt.Sprintf("shows frame %d", frame), `n => document.querySelector("canvas")?.dataset.frame === String(n)`, frame)
}

// seen reads the counter the stand-in lights in the corner of every picture.
const seen = `(size, bits) => {
	const c = document.querySelector("canvas"), pen = c.getContext("2d"), k = c.width / 640;
	let n = 0;
	for (let i = 0; i < bits; i++) {
		const d = pen.getImageData(Math.round((i * size + size / 2) * k), Math.round(size / 2 * k), 1, 1).data;
		if (d[0] > 128) n |= 1 << i;
	}
	return n;
}`

func shownFrame(p *rod.Page) int {
	x, _, bits := standin.CounterAt(0)
	return p.MustEval(seen, 2*x, bits).Int()
}

// toFrame presses on the rule where a frame is.
func toFrame(t testing.TB, p *rod.Page, frame int) {
	t.Helper()
	p.MustEval(`n => {
		const s = document.querySelector('[role=slider][aria-label="Frame"]'), r = s.getBoundingClientRect();
		s.setPointerCapture = () => {};
		s.dispatchEvent(new PointerEvent("pointerdown", { bubbles: true, pointerId: 1, buttons: 1,
			clientX: r.left + (n / s.ariaValueMax) * r.width, clientY: r.top + 5 }));
	}`, frame)
	at(t, p, frame)
}

var keyOf = map[string]input.Key{"left touchdown": input.KeyA, "left toe_off": input.KeyS, "right touchdown": input.KeyK,
	"right toe_off": input.KeyL}

// markAll goes through the clip and marks every true frame by key.
func markAll(t testing.TB, p *rod.Page, c gait.Clip) {
	for _, e := range c.Sorted() {
		toFrame(t, p, e.Frame)
		p.Keyboard.MustType(keyOf[string(e.Side)+" "+string(e.Kind)])
		until(t, p, "has the mark",
			`w => [...document.querySelectorAll('[role=group][aria-label^="Mark the"] button[aria-pressed=true]')].some((b) =>
			b.closest("[role=group]").getAttribute("aria-label").includes(w[0]) && b.innerText.includes(w[1]))`,
			[]string{string(e.Side), map[gait.Kind]string{gait.Touchdown: "Touchdown", gait.ToeOff: "Toe-off"}[e.Kind]})
	}
}

// pointAt presses on the picture where a point of it is, the whole picture being in view.
func pointAt(p *rod.Page, at gait.Point) {
	p.MustEval(`(x, y) => {
		const svg = document.querySelector('svg[aria-label="Picture"]'), r = document.querySelector("canvas").getBoundingClientRect();
		const e = (type) => svg.dispatchEvent(new PointerEvent(type, { bubbles: true, pointerId: 1, buttons: 1,
			clientX: r.left + x / 640 * r.width, clientY: r.top + y / 480 * r.height }));
		svg.setPointerCapture = () => {};
		e("pointerdown"); e("pointerup");
	}`, at.X, at.Y)
}

// figureOf reads a number and its interval as they stand on the page.
func figureOf(t testing.TB, p *rod.Page, id string, side body.Side) (value, half float64, word string) {
	t.Helper()
	sel := fmt.Sprintf(`[data-figure="%s %s"]`, id, side)
	until(t, p, "shows "+sel, `s => { const e = document.querySelector(s); return !!e && e.textContent.includes("±"); }`, sel)
	text := p.MustEval(`s => document.querySelector(s).textContent`, sel).Str()
	text = strings.TrimPrefix(strings.TrimSpace(strings.ReplaceAll(text, "−", "-")), string(side)+" ")
	number := func(s string) (float64, string) {
		s = strings.TrimSpace(s)
		i := 0
		for i < len(s) && strings.ContainsRune("-.0123456789", rune(s[i])) {
			i++
		}
		v, err := strconv.ParseFloat(s[:i], 64)
		require.NoError(t, err, "%q", text)
		return v, s[i:]
	}
	first, rest, _ := strings.Cut(text, "±")
	value, _ = number(first)
	half, word = number(rest)
	for _, unit := range []string{" ms", " spm", "°", " %", " cm", " mm", " BW"} {
		word = strings.TrimPrefix(word, unit)
	}
	return value, half, word
}

// Marking the true frames and points through the interface gives, for every clip, what the table in
// docs/clips.md says, and its interval holds the truth.
func TestTheTrueFramesGiveTheTruth(t *testing.T) {
	names := []string{"heel-30", "heel-60", "heel-120", "mid-120", "mid-240", "fore-240", "fore-120", "uneven-240"}
	rows := map[string]standin.Row{}
	for _, r := range standin.Table(house.Rules{}) {
		rows[r.Film+" "+r.ID+" "+string(r.Side)] = r
	}
	w := start(t)
	p := w.signedIn()
	w.gaitRoom(p)
	for _, name := range names {
		t.Run(name, func(t *testing.T) {
			f := simulated(t, p, name)
			c := f.Marked()
			markAll(t, p, c)
			check := func(id string, side body.Side) string {
				v, half, word := figureOf(t, p, id, side)
				r := rows[name+" "+id+" "+string(side)]
				assert.InDelta(t, r.Truth, v, half+0.05+0.5*boolean(r.Unit == "ms"), "%s, %s: the interval holds the truth", id, side)
				return word
			}
			check("cadence", body.Both)
			for _, side := range body.Sides {
				check("contact", side)
				check("flight", side)
			}
			_, _, word := figureOf(t, p, "contact.side", body.Both)
			assert.Equal(t, f.CaptureFps < 120, word == "too coarse to compare sides", word)

			strikes(t, p, f, c)
			press(p, "^Close$")
		})
	}
}

// strikes: points on the shoe at the first landing and flat, on each side, give the strike that is true.
func strikes(t *testing.T, p *rod.Page, f standin.Film, c gait.Clip) {
	// Points: the shoe at the first landing and flat, on each side.
	for _, side := range body.Sides {
		for _, moment := range []gait.Moment{gait.AtTouchdown, gait.MidStance} {
			for _, s := range c.Stills {
				if s.Side != side || s.At != moment {
					continue
				}
				p.MustEval(`(side, words) => {
					const row = [...document.querySelectorAll('section[aria-label="Stills"] div')].find((d) =>
						d.querySelector("span")?.textContent === side);
					[...row.querySelectorAll("button")].find((b) => b.innerText.includes(words)).click();
				}`, string(side), map[gait.Moment]string{gait.AtTouchdown: "landing", gait.MidStance: "mid-stance"}[moment])
				at(t, p, s.Frame)
				for _, spot := range []string{"heel", "toe"} {
					until(t, p, "asks for the "+spot, `w => document.querySelector('[role=status]')?.innerText.includes("Press on the shoe, " + w) ||
						[...document.querySelectorAll('[role=status]')].some((x) => x.innerText.includes("shoe, " + w))`, spot)
					pointAt(p, s.Points[spot])
				}
				break
			}
		}
		_, half, word := figureOf(t, p, "strike", side)
		v, _, _ := figureOf(t, p, "strike", side)
		assert.InDelta(t, f.Strike[map[body.Side]int{body.Left: 0, body.Right: 1}[side]], v, half+0.05, "strike, %s", side)
		if f.CaptureFps < 120 {
			assert.Equal(t, "by eye only", word)
		} else {
			assert.NotEqual(t, "by eye only", word)
		}
	}
}

func boolean(b bool) float64 {
	if b {
		return 1
	}
	return 0
}

// Stepping shows each frame of the shipped clips exactly once, in order: read from the counter in the
// pictures themselves.
func TestSteppingShowsEveryFrameOnce(t *testing.T) {
	for name, quick := range map[string]bool{"up to 120": false, "240": true} {
		t.Run(name, func(t *testing.T) { stepThrough(t, func(f standin.Film) bool { return (f.CaptureFps > 120) == quick }) })
	}
}

func stepThrough(t *testing.T, wanted func(standin.Film) bool) {
	w := start(t)
	p := w.signedIn()
	w.gaitRoom(p)
	for _, f := range standin.Films {
		if !wanted(f) {
			continue
		}
		t.Run(f.Name, func(t *testing.T) {
			simulated(t, p, f.Name)
			x, _, bits := standin.CounterAt(0)
			// Every painted picture is read as it comes.
			p.MustEval(`(size, bits) => {
				const read = `+seen+`;
				const c = document.querySelector("canvas"), pen = c.getContext("2d"), draw = pen.drawImage.bind(pen);
				window.painted = [read(size, bits)];
				pen.drawImage = (...a) => { draw(...a); window.painted.push(read(size, bits)); };
			}`, 2*x, bits)
			out := f.Marked().Missing // left out of the file, or the same picture again
			steps := f.Frames() - 1 - len(out)
			p.MustEval(`n => { for (let i = 0; i < n; i++) document.body.dispatchEvent(new KeyboardEvent("keydown", { key: "ArrowRight",
				bubbles: true, repeat: true })); }`, steps)
			p.Timeout(2*time.Minute).MustWait(`n => window.painted.length >= n + 1`, steps)
			var got []int
			require.NoError(t, json.Unmarshal([]byte(p.MustEval(`() => JSON.stringify(window.painted)`).Str()), &got))
			want := []int{}
			for n := range f.Frames() {
				if !slices.Contains(out, n) {
					want = append(want, n)
				}
			}
			assert.Equal(t, want, got)
			press(p, "^Close$")
		})
	}
}

func TestMarkingUndoingAndKeeping(t *testing.T) {
	w := start(t)
	p := w.signedIn()
	w.gaitRoom(p)
	f := simulated(t, p, "heel-120")
	c := f.Marked()
	marks := c.Sorted()
	toFrame(t, p, marks[0].Frame)
	assert.Equal(t, marks[0].Frame, shownFrame(p))
	p.Keyboard.MustType(input.KeyA)
	// A toe-off just before it cannot be: what is wrong is said beside the numbers, and the marks stay.
	toFrame(t, p, marks[0].Frame-4)
	p.Keyboard.MustType(input.KeyS)
	reads(t, p, fmt.Sprintf("left foot: toe-off at frame %d and touchdown at %d", marks[0].Frame-4, marks[0].Frame), "are the two swapped")
	p.Keyboard.MustType(input.KeyU)
	until(t, p, "has it undone", `() => !document.querySelector('[aria-label="Mark the left foot"] [aria-pressed=true]') &&
		!document.body.innerText.includes("are the two swapped")`)
	toFrame(t, p, marks[0].Frame)
	until(t, p, "has the first mark still", `() => !!document.querySelector('[aria-label="Mark the left foot"] [aria-pressed=true]')`)
	markAll(t, p, c)
	// Arrow up and down snap to the marks.
	p.Keyboard.MustType(input.ArrowUp)
	at(t, p, marks[len(marks)-2].Frame)
	p.Keyboard.MustType(input.ArrowDown)
	at(t, p, marks[len(marks)-1].Frame)
	// Keeping puts the numbers into the screen; by then the figures are those of the last mark.
	press(p, "Keep with today's screen")
	reads(t, p, "✓ Kept with today's screen")
	v, half, _ := figureOf(t, p, "cadence", body.Both)
	assert.InDelta(t, f.Cadence, v, half+0.05)
	// The page is lost; the marks are not.
	p.MustReload()
	reads(t, p, "Kept clips", "heel-120.mp4", fmt.Sprintf("%d marks", len(marks)))
	simulated(t, p, "heel-120")
	reads(t, p, "Earlier marks are back.", "✓ Kept with today's screen")
	v2, _, _ := figureOf(t, p, "cadence", body.Both)
	assert.Equal(t, v, v2)
	keptElsewhere(t, p)
	// A toe-off moved by a frame is kept in the old one's place.
	p.Keyboard.MustType(input.End)
	at(t, p, f.Frames()-1)
	p.Keyboard.MustType(input.ArrowUp)
	at(t, p, marks[len(marks)-1].Frame)
	press(p, "^▼ Touchdown|^▲ Toe-off")
	press(p, "^Close$")
	reads(t, p, "Kept clips")
	choose(p, "nav a", "Screen")
	station(t, p, "Gait")
	reads(t, p, fmt.Sprintf("%.1f spm", v), "Contact time", "Flight time after")
	choose(p, "nav a", "Gait")
	press(p, "Take out")
	reads(t, p, "its figures are out of the reading")
	press(p, "Put back")
	reads(t, p, "heel-120.mp4")
}

// keptElsewhere: on a device that never saw them the marks come back as they were kept, also beside another clip.
func keptElsewhere(t *testing.T, p *rod.Page) {
	p.MustEval(`() => localStorage.clear()`)
	p.MustReload()
	reads(t, p, "Kept clips")
	simulated(t, p, "heel-120")
	reads(t, p, "Earlier marks are back.", "✓ Kept with today's screen")
	press(p, "^Close$")
	simulated(t, p, "mid-240")
	p.Keyboard.MustType(input.KeyA)
	press(p, "^Compare$")
	press(p, "heel-120.mp4, easy, shoes")
	reads(t, p, "heel-120.mp4 · easy, shoes", "Its file is not open here", "touchdown + 0 ms")
	press(p, "Back to the clip")
	press(p, "^Close$")
	simulated(t, p, "heel-120")
	reads(t, p, "✓ Kept with today's screen")
}

func TestTwoClipsSideBySide(t *testing.T) {
	w := start(t)
	p := w.signedIn()
	w.gaitRoom(p)
	for _, name := range []string{"mid-240", "uneven-240"} {
		f := simulated(t, p, name)
		markAll(t, p, f.Marked())
		if name == "mid-240" {
			press(p, "^Close$")
		}
	}
	press(p, "^Compare$")
	press(p, "the other foot of this clip")
	reads(t, p, "Contact time, left → right", "▲ more", "touchdown + 0 ms")
	press(p, "Another one")
	press(p, "Practise on a simulated clip")
	choose(p, "li button", "^mid-240")
	reads(t, p, "mid-240.mp4 · easy, shoes", "Cadence", "▲ more")
	a, _ := standin.Find("uneven-240")
	b, _ := standin.Find("mid-240")
	first := func(f standin.Film, side body.Side) int {
		for _, e := range f.Marked().Sorted() {
			if e.Side == side && e.Kind == gait.Touchdown && float64(e.Frame) > 24 {
				return e.Frame
			}
		}
		return -1
	}
	// Both stand at the left touchdown, whatever the foot chosen before.
	choose(p, `[aria-label="Foot of the second"] button`, "left")
	until(t, p, "stands at both touchdowns",
		`w => [...document.querySelectorAll("canvas")].map((c) => Number(c.dataset.frame)).join(" ") === w`,
		fmt.Sprintf("%d %d", first(a, body.Left), first(b, body.Left)))
	p.MustElement(`[aria-label="+1 frame"]`).MustEval(`() => { this.click(); }`)
	reads(t, p, "touchdown + 4 ms")
	until(t, p, "steps both", `w => [...document.querySelectorAll("canvas")].map((c) => Number(c.dataset.frame)).join(" ") === w`,
		fmt.Sprintf("%d %d", first(a, body.Left)+1, first(b, body.Left)+1))
	press(p, "Back to the clip")
	reads(t, p, "uneven-240.mp4")
}

// A chosen still is kept as a picture with the screen, and can be deleted for good.
func TestAStillIsKeptAndDeleted(t *testing.T) {
	w := start(t)
	p := w.signedIn()
	w.gaitRoom(p)
	f := simulated(t, p, "heel-120")
	c := f.Marked()
	c.Marks = c.Sorted()[:5]
	markAll(t, p, c)
	choose(p, `section[aria-label="Stills"] button`, "landing")
	reads(t, p, "Press on the shoe, heel.")
	still := c.Stills[0]
	require.Equal(t, gait.AtTouchdown, still.At)
	at(t, p, still.Frame)
	for _, s := range gait.Spots("side") {
		pointAt(p, still.Points[s.ID])
	}
	reads(t, p, "✓ ear", "7/7")
	choose(p, `section[aria-label="Stills"] [role=checkbox]`, "")
	// Without a known length there is no share of leg length; it is drawn on the board, and the line is level.
	reads(t, p, "No known length is marked")
	a, b := f.Metre()
	press(p, "Known length")
	pointAt(p, a)
	reads(t, p, "Press on its other end.")
	pointAt(p, b)
	press(p, "Level line")
	pointAt(p, c.Level.A)
	pointAt(p, c.Level.B)
	v, half, _ := figureOf(t, p, "overstride", body.Left)
	assert.InDelta(t, 20, v, half+0.05)
	v, half, _ = figureOf(t, p, "trunk", body.Both)
	assert.InDelta(t, 6, v, half+0.05)
	press(p, "Show the truth of this made-up runner")
	reads(t, p, "truth 20.0 % ✓")
	// A still whose mark is taken off is not forgotten: it says so, until it is undone.
	choose(p, `[aria-label="Mark the left foot"] button[aria-pressed=true]`, "Touchdown")
	reads(t, p, "mark moved")
	press(p, "^Undo")
	until(t, p, "has its mark again", `() => !document.body.innerText.includes("mark moved")`)
	press(p, "Keep with today's screen")
	reads(t, p, "✓ Kept with today's screen")
	press(p, "^Close$")
	until(t, p, "shows the kept picture",
		`() => { const i = document.querySelector('img[alt^="left landing"]'); return !!i && i.naturalWidth === 640; }`)
	press(p, "Delete picture")
	press(p, "Delete it for good")
	until(t, p, "has no picture any more", `() => !document.querySelector('img[alt^="left landing"]')`)
	reads(t, p, "heel-120.mp4")
}

// From behind: the middle of the belt and the inner edges say which foot crosses it.
func TestTheViewFromBehind(t *testing.T) {
	w := start(t)
	p := w.signedIn()
	w.gaitRoom(p)
	f := simulated(t, p, "rear-120")
	c := f.Marked()
	c.Marks = c.Sorted()[:6]
	markAll(t, p, c)
	press(p, "Known length")
	pointAt(p, c.Scale.A)
	pointAt(p, c.Scale.B)
	press(p, "Middle of the belt")
	pointAt(p, c.Midline.A)
	pointAt(p, c.Midline.B)
	for i, side := range body.Sides {
		p.MustEval(`side => [...[...document.querySelectorAll('section[aria-label="Stills"] div')].find((d) =>
			d.querySelector("span")?.textContent === side).querySelectorAll("button")][0].click()`, string(side))
		for _, s := range c.Stills {
			if s.Side == side {
				at(t, p, s.Frame)
				for _, spot := range gait.Spots("rear") {
					until(t, p, "asks for it",
						`w => [...document.querySelectorAll('[role=status]')].some((x) => x.innerText.includes("Press on the " + w))`, spot.Name)
					pointAt(p, s.Points[spot.ID])
				}
				break
			}
		}
		v, half, word := figureOf(t, p, "crossover", side)
		assert.InDelta(t, f.Inner[i], v, half+0.5)
		assert.Equal(t, []string{"over the line", "clear of the line"}[i], word)
		v, half, _ = figureOf(t, p, "knee_in", side)
		assert.InDelta(t, f.KneeIn[i], v, half+0.05)
	}
	press(p, "Keep with today's screen")
	reads(t, p, "✓ Kept with today's screen")
	press(p, "^Close$")
	reads(t, p, "Crossover, left", "over the line")
}
