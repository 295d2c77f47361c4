package e2e

import (
	"encoding/json"
	"fmt"
	"math"
	"os"
	"path/filepath"
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
	"notchback/internal/standin"
)

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
	clip, err := standin.Shelf{}.Open("heel-240")
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
	lostFrames(t, p)
}

// lostFrames: frames left out of a file, and pictures that stand twice, are said.
func lostFrames(t *testing.T, p *rod.Page) {
	// Frames left out of a file are said and crossed out.
	press(p, "^Close$")
	simulated(t, p, "dropped-60")
	reads(t, p, "The file leaves out 4 of its 180 frames", "4 of 180 frames are missing or repeat the one before")
	// Pictures that stand twice are found, and the errors are those of the lower rate.
	press(p, "^Close$")
	doubled := simulated(t, p, "doubled-60")
	reads(t, p, "90 of 180 frames repeat the picture before them")
	markAll(t, p, doubled.Marked())
	v, half, _ := figureOf(t, p, "contact", body.Left)
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
			got := confirmAll(t, p)
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

// confirmAll confirms each mark that is proposed.
func confirmAll(t *testing.T, p *rod.Page) []gait.Proposal {
	left := 0
	got := []gait.Proposal{}
	for {
		// The picture follows the proposal; words that were read before it did may be of the one before.
		until(t, p, "shows the frame it proposes", `() => {
			const frame = document.querySelector('section[aria-label="Proposal"]')?.innerText.match(/frame (\d+)/)?.[1];
			return frame === undefined || document.querySelector("canvas")?.dataset.frame === frame;
		}`)
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
	return got
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
