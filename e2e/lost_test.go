package e2e

import (
	"context"
	"net/http"
	"net/http/httptest"
	"sync/atomic"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/room"
	"notchback/internal/testkit"
)

// losing has the server do every write and lose its answer on the way, while lose says so. A browser may try once more by
// itself.
func (w *world) losing(lose *atomic.Bool) {
	w.down()
	w.before = func(next http.Handler) http.Handler {
		return http.HandlerFunc(func(rw http.ResponseWriter, r *http.Request) {
			if r.Method != http.MethodPut || !lose.Load() {
				next.ServeHTTP(rw, r)
				return
			}
			next.ServeHTTP(httptest.NewRecorder(), r)
			if c, _, err := http.NewResponseController(rw).Hijack(); err == nil {
				_ = c.Close()
			}
		})
	}
	w.up()
}

func (w *world) chart(runner string) room.Chart {
	w.t.Helper()
	o, err := w.desk.Chart(context.Background(), w.desk.Actor, runner)
	require.NoError(w.t, err)
	return o
}

// A write whose answer is lost is told as not done, and done again it is the same write; what is entered after it is
// another one, even of the same words.
func TestALostAnswerWritesOnce(t *testing.T) {
	w := start(t)
	var lose atomic.Bool
	w.losing(&lose)
	runner := w.programmed(testkit.Profile())
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/adjust")
	reads(t, p, "Enter a run")
	enter := func(minutes string) {
		form := p.MustElement(`[aria-label="Enter a run"]`)
		form.MustElementByJS(`() => [...this.querySelectorAll("label")].find((l) => l.textContent.startsWith("Minutes")).querySelector("input")`).
			MustSelectAllText().MustInput(minutes)
		tap(form.MustElementR("button", "^Keep"))
	}
	lose.Store(true)
	enter("40")
	reads(t, p, "The server cannot be reached")
	require.Len(t, w.chart(runner).Runs, 1, "it was written all the same")
	lose.Store(false)
	tap(p.MustElement(`[aria-label="Enter a run"]`).MustElementR("button", "^Keep"))
	until(t, p, "is done, and empty for the next", `() => !document.body.innerText.includes("The server cannot be reached") &&
		[...document.querySelectorAll('[aria-label="Enter a run"] label')].find((l) => l.textContent.startsWith("Minutes"))
			.querySelector("input").value === "" && !document.querySelector('[aria-label="Enter a run"] button').disabled`)
	assert.Len(t, w.chart(runner).Runs, 1, "the same write")
	enter("40")
	soon(t, func() bool { return len(w.chart(runner).Runs) == 2 }, "a second run of the same minutes")

	// Asked twice on one page, the warning signs are two askings.
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/intake")
	before := len(w.chart(runner).Checks)
	for i := range 2 {
		w.askSigns(p)
		soon(t, func() bool { return len(w.chart(runner).Checks) == before+i+1 }, "asked once more")
	}
}

// askSigns asks the warning signs, and is told no to each.
func (w *world) askSigns(p *rod.Page) {
	press(p, "Ask the warning signs")
	press(p, "No to the rest")
	press(p, "Keep the answers")
	reads(w.t, p, "Last asked")
}

// An exercise that was begun stays with what was typed, whatever is told meanwhile: it says to stop, and is kept.
func TestWhatWasBegunIsNotLost(t *testing.T) {
	w := start(t)
	runner := w.programmed(testkit.Profile())
	ph := w.open("/phone#"+w.linked(runner), 390, 844)
	reads(t, ph, "First steps")
	w.trainingDay(ph)
	// The last of the session: what comes first may be release work, which asks for discomfort.
	tap(ph.MustElementByJS(`() => [...document.querySelectorAll("button")].filter((b) => b.innerText === "Enter by hand").at(-1)`))
	tapAll(ph, "button", "^as planned$")
	tapAll(ph, `button[aria-label^="Pain, "][aria-label$=": 4"]`, "")
	press(ph, "Anything new or odd\\?$")
	ph.MustElement(`button[aria-label^="Yes: Fever"]`).MustClick()
	press(ph, "Yes: stop and tell my coach")
	reads(t, ph, "No training until your coach has been in touch", "Stop here. After what you told, this is not for today any more.")
	press(ph, "^No$")
	press(ph, "^Keep it$")
	require.Eventually(t, func() bool { return len(w.chart(runner).Logs) > 0 }, 20*time.Second, 50*time.Millisecond)
	for _, l := range w.chart(runner).Logs {
		assert.Equal(t, 4, l.Pain)
	}
	assert.Len(t, w.chart(runner).Stops, 1)
	until(t, ph, "is put away", `() => !document.body.innerText.includes("Stop here.")`)
}
