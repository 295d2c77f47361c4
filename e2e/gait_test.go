package e2e

import (
	"encoding/json"
	"fmt"
	"math"
	"os"
	"path/filepath"
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
			press(p, "^Close$")
		})
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

func TestBadFilesSayWhatIsWrong(t *testing.T) {
	w := start(t)
	p := w.signedIn()
	w.gaitRoom(p)
	dir := t.TempDir()
	file := func(name string, size int64, data string) string {
		path := filepath.Join(dir, name)
		require.NoError(t, os.WriteFile(path, []byte(data), 0o600))
		if size > 0 {
			require.NoError(t, os.Truncate(path, size)) // sparse: takes no room
		}
		return path
	}
	pick := func(path string) { p.MustElement(`input[type=file]`).MustSetFiles(path) }
	for _, x := range []struct{ path, says string }{
		{file("notes.mp4", 0, "not a film at all, only words"), "is not a video this browser can read. Use an MP4, MOV or WebM clip."},
		{file("empty.mp4", 0, ""), "is empty. Choose another file."},
		{file("long.mp4", 2<<30, "x"), "has 2.1 GB. Cut out the ten seconds you need"},
		{file("tone.wav", 0, wav()), "“tone.wav”"},
	} {
		pick(x.path)
		reads(t, p, "Not opened.", x.says)
	}
	// A clip from disk opens with its rate to be confirmed: no number before it is said.
	clip, err := standin.Clip("heel-240")
	require.NoError(t, err)
	info, err := clip.Stat()
	require.NoError(t, err)
	raw := make([]byte, info.Size())
	_, err = clip.Read(raw)
	require.NoError(t, err)
	own := filepath.Join(dir, "phone.mp4")
	require.NoError(t, os.WriteFile(own, raw, 0o600))
	pick(own)
	at(t, p, 0)
	reads(t, p, "shot at ?, plays at 30", "Say at how many frames a second it was shot")
	choose(p, "[role=radio]", "^240$")
	reads(t, p, "shot at 240, plays at 30", "it is slowed 8.0 times")
	f, _ := standin.Find("heel-240")
	toFrame(t, p, 27)
	p.MustEval(`() => document.activeElement?.blur()`)
	markAll(t, p, f.Marked())
	v, half, _ := figureOf(t, p, "cadence", body.Both)
	assert.InDelta(t, f.Cadence, v, half+0.05)
	// A bad file in between loses nothing of it.
	press(p, "^Close$")
	pick(file("broken.mov", 0, "ftypqt  "))
	reads(t, p, "Not opened.")
	pick(own)
	at(t, p, 0)
	reads(t, p, "Earlier marks are back.")
	again, _, _ := figureOf(t, p, "cadence", body.Both)
	assert.Equal(t, v, again)
	// Frames left out of a file are said and crossed out.
	press(p, "^Close$")
	simulated(t, p, "dropped-60")
	reads(t, p, "The file leaves out 4 of its 180 frames", "4 of 180 frames are missing or repeat the one before")
	// Pictures that stand twice are found, and the errors are those of the lower rate.
	press(p, "^Close$")
	doubled := simulated(t, p, "doubled-60")
	reads(t, p, "90 of 180 frames repeat the picture before them")
	markAll(t, p, doubled.Marked())
	v, half, _ = figureOf(t, p, "contact", body.Left)
	assert.InDelta(t, 252, v, half+0.5)
	assert.InDelta(t, 27, half, 0.5, "± 27 ms, as at 30 frames a second")
}

// wav is a second of silence: a file with sound and no picture.
func wav() string {
	n := 8000
	le := func(v, size int) string {
		b := make([]byte, size)
		for i := range b {
			b[i] = byte(v >> (8 * i))
		}
		return string(b)
	}
	return "RIFF" + le(36+n, 4) + "WAVEfmt " + le(16, 4) + le(1, 2) + le(1, 2) + le(8000, 4) + le(8000, 4) + le(1, 2) + le(8, 2) + "data" +
		le(n, 4) + strings.Repeat("\x80", n)
}

// Following the tape proposes marks; each is confirmed by the coach, and none counts before. The hit
// rate within one frame is printed, on clean and on blurred clips.
func TestFollowedTapeProposesMarks(t *testing.T) {
	w := start(t)
	p := w.signedIn()
	w.gaitRoom(p)
	for _, name := range []string{"heel-30", "heel-60", "heel-120", "fore-120", "mid-240", "uneven-240", "blurred-120", "blurred-240"} {
		t.Run(name, func(t *testing.T) {
			f := simulated(t, p, name)
			c := f.Marked()
			// A frame on which both shoes are seen: the middle of a right contact.
			label := f.Frames() / 2
			for _, s := range c.Stills {
				if s.At == gait.MidFlight && s.Frame > f.Frames()/4 {
					label = s.Frame
					break
				}
			}
			toFrame(t, p, label)
			near, far := body.Right, body.Left
			if f.Heading == "left" {
				near, far = far, near
			}
			p.MustEval(`() => document.querySelector('section[aria-label="Follow the tape"] button').click()`)
			for _, side := range []body.Side{near, far} {
				for _, spot := range []string{"heel", "toe"} {
					until(t, p, "asks for the tape",
						`w => [...document.querySelectorAll('[role=status]')].some((x) => x.innerText.includes("Press on the tape: " + w))`,
						string(side)+" shoe, "+spot)
					pointAt(p, f.Points(side, label)[spot])
				}
			}
			press(p, "Follow and propose marks")
			long := p.Timeout(3 * time.Minute)
			long.MustElement(`section[aria-label="Proposal"]`)
			assert.Zero(t, p.MustEval(`() => document.querySelectorAll('[data-figure]').length`).Int(), "nothing counts before it is confirmed")
			left := 0
			got := []gait.Proposal{}
			for {
				words := p.MustEval(`() => document.querySelector('section[aria-label="Proposal"]')?.innerText ?? ""`).Str()
				if words == "" {
					break
				}
				var side, kind string
				var frame int
				_, err := fmt.Sscanf(strings.ReplaceAll(words, ",", ""), "Proposed: %s %s frame %d", &side, &kind, &frame)
				require.NoError(t, err, words)
				at(t, p, frame)
				k := gait.Touchdown
				if kind == "toe-off" {
					k = gait.ToeOff
				}
				got = append(got, gait.Proposal{Frame: frame, Side: body.Side(side), Kind: k})
				n := p.MustEval(`() => Number(document.querySelector('section[aria-label="Proposal"]').innerText.match(/(\d+) left/)[1])`).Int()
				press(p, "^Confirm at "+strconv.Itoa(frame))
				until(t, p, "takes the next", `n => !document.querySelector('section[aria-label="Proposal"]')?.innerText.includes(n + " left.")`, n)
				if left++; left > 40 {
					t.Fatal("proposals without end")
				}
			}
			hits, all := standin.Near(c.Marks, got)
			for _, e := range c.Sorted() {
				near := 999
				for _, g := range got {
					if d := g.Frame - e.Frame; g.Side == e.Side && g.Kind == e.Kind && d*d < near*near {
						near = d
					}
				}
				if near*near > 1 {
					t.Logf("missed %s %s at %d: nearest %+d", e.Side, e.Kind, e.Frame, near)
				}
			}
			t.Logf("%-12s %d of %d marks proposed within one frame; %d proposals", name, hits, all, len(got))
			assert.GreaterOrEqual(t, float64(hits), map[bool]float64{true: 0.6, false: 0.8}[f.Shutter > 0.3]*float64(all))
			figureOf(t, p, "cadence", body.Both)
			press(p, "^Close$")
		})
	}
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

// The metronome's beats stand on the audio clock, evenly, with the accent on the chosen foot.
func TestTheMetronomeKeepsTime(t *testing.T) {
	w := start(t)
	p := w.signedIn()
	p.MustEvalOnNewDocument(`(() => {
		window.beats = [];
		const start = OscillatorNode.prototype.start;
		OscillatorNode.prototype.start = function (at) { window.beats.push([at, this.frequency.value]); return start.call(this, at); };
	})()`)
	w.gaitRoom(p)
	fill(p, "Metronome", "300")
	reads(t, p, "100 to 260")
	fill(p, "Metronome", "174")
	choose(p, "[role=radio]", "accent right")
	choose(p, `[aria-label="Metronome"] button`, "^Start$")
	// A busy page does not shift a beat.
	until(t, p, "has scheduled some", `() => window.beats.length >= 4`)
	p.MustEval(`() => { const end = performance.now() + 500; while (performance.now() < end); }`)
	until(t, p, "goes on", `() => window.beats.length >= 14`)
	choose(p, `[aria-label="Metronome"] button`, "^Stop$")
	var beats [][2]float64
	require.NoError(t, json.Unmarshal([]byte(p.MustEval(`() => JSON.stringify(window.beats)`).Str()), &beats))
	for i, b := range beats {
		assert.InDelta(t, beats[0][0]+float64(i)*60/174, b[0], 1e-6, "beat %d", i)
		assert.Equal(t, i%2 == 1, b[1] > 1000, "the accent is on the right foot")
	}
	assert.False(t, math.IsNaN(beats[0][0]))
}

// BenchmarkScrub holds the right arrow over a ten-second clip of 240 frames a second and reports how
// many frames a second were shown, each once. ./notchback scrub films the clip and runs it.
func BenchmarkScrub(b *testing.B) {
	path := os.Getenv("NOTCHBACK_LONG_CLIP")
	if path == "" {
		b.Skip("run ./notchback scrub")
	}
	w := launch(b)
	p := w.signedIn()
	w.gaitRoom(p)
	p.MustElement(`input[type=file]`).MustSetFiles(path)
	at(b, p, 0)
	choose(p, "[role=radio]", "^240$")
	p.MustEval(`() => document.activeElement?.blur()`)
	for b.Loop() {
		seconds := p.MustEval(`() => new Promise((done) => {
			const c = document.querySelector("canvas"), pen = c.getContext("2d"), draw = pen.drawImage.bind(pen);
			const last = 2399, begin = performance.now();
			let painted = 0;
			pen.drawImage = (...a) => {
				draw(...a);
				if (++painted >= last) { delete pen.drawImage; done((performance.now() - begin) / 1000); return; }
			};
			for (let i = 0; i < last; i++) document.body.dispatchEvent(new KeyboardEvent("keydown", { key: "ArrowRight", bubbles: true,
				repeat: true }));
		})`).Num()
		at(b, p, 2399)
		b.ReportMetric(2399/seconds, "frames/s")
		p.Keyboard.MustType(input.Home)
		at(b, p, 0)
	}
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

// Points are followed too: on a still of the near leg they stand proposed, and count once confirmed.
func TestFollowedPointsAreConfirmed(t *testing.T) {
	w := start(t)
	p := w.signedIn()
	w.gaitRoom(p)
	f := simulated(t, p, "heel-120")
	label := 66
	toFrame(t, p, label)
	p.MustEval(`() => document.querySelector('section[aria-label="Follow the tape"] button').click()`)
	for _, x := range []struct {
		side  body.Side
		spots []string
	}{{body.Right, []string{"heel", "toe"}}, {body.Left, []string{"heel", "toe"}},
		{body.Right, []string{"ankle", "knee", "hip", "shoulder", "ear"}}} {
		for _, spot := range x.spots {
			words := map[string]string{"heel": "shoe, heel", "toe": "shoe, toe"}[spot]
			if words == "" {
				words = spot
			}
			until(t, p, "asks for the tape",
				`w => [...document.querySelectorAll('[role=status]')].some((x) => x.innerText.includes("Press on the tape: " + w))`,
				string(x.side)+" "+words)
			pointAt(p, f.Points(x.side, label)[spot])
		}
	}
	press(p, "Follow and propose marks")
	p.MustElement(`section[aria-label="Proposal"]`)
	p.MustEval(`() => document.activeElement?.blur()`)
	left := `() => Number(document.querySelector('section[aria-label="Proposal"]').innerText.match(/(\d+) left/)[1])`
	for n := p.MustEval(left).Int(); n > 0; n-- {
		until(t, p, "stands at the proposal", `n => { const s = document.querySelector('section[aria-label="Proposal"]').innerText;
			return s.includes(n + " left.") && s.match(/frame (\d+)/)[1] === document.querySelector("canvas").dataset.frame; }`, n)
		p.Keyboard.MustType(input.Enter)
	}
	until(t, p, "has no proposal left", `() => !document.querySelector('section[aria-label="Proposal"]')`)
	v, half, _ := figureOf(t, p, "cadence", body.Both)
	assert.InDelta(t, f.Cadence, v, half+1)
	p.MustEval(`() => [...[...document.querySelectorAll('section[aria-label="Stills"] div')].find((d) =>
		d.querySelector("span")?.textContent === "right").querySelectorAll("button")].find((b) => b.innerText.includes("landing")).click()`)
	press(p, "Confirm 7 followed points")
	reads(t, p, "7/7")
	for id, truth := range map[string]float64{"shin": 0, "knee": 0} {
		for _, k := range f.Known() {
			if k.ID == id && k.Side == body.Right {
				truth = k.Value
			}
		}
		v, half, _ := figureOf(t, p, id, body.Right)
		assert.InDelta(t, truth, v, half+0.05, id)
	}
}
