package e2e

import (
	"net/http"
	"net/http/httptest"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/adjust"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// point is where the network is cut.
type point int32

const (
	whole       point = iota
	beforeWrite       // a write does not reach the server
	afterWrite        // it does, and its answer is lost
	afterwards        // it is answered, and what is asked for after it is lost
)

var points = map[point]string{beforeWrite: "before a write", afterWrite: "after a write", afterwards: "after its answer"}

// cutting has the network cut at a point, until it is whole again.
type cutting struct {
	at    atomic.Int32
	lost  atomic.Int32 // requests
	after atomic.Bool  // the write was answered
}

func (c *cutting) cut(p point) {
	c.lost.Store(0)
	c.after.Store(false)
	c.at.Store(int32(p))
}

// met reports that the cut was met: a request was lost, or a write answered after which nothing was asked for.
func (c *cutting) met() bool { return c.lost.Load() > 0 || c.after.Load() }

func (c *cutting) drop(rw http.ResponseWriter) {
	c.lost.Add(1)
	if conn, _, err := http.NewResponseController(rw).Hijack(); err == nil {
		_ = conn.Close()
	}
}

// cut puts it before the server.
func (w *world) cut() *cutting {
	c := &cutting{}
	w.down()
	w.before = func(next http.Handler) http.Handler {
		return http.HandlerFunc(func(rw http.ResponseWriter, r *http.Request) {
			write := r.Method != http.MethodGet && !strings.HasSuffix(r.URL.Path, "/draft")
			switch p := point(c.at.Load()); {
			case p == beforeWrite && write, p == afterwards && c.after.Load():
				c.drop(rw)
			case p == afterWrite && write:
				next.ServeHTTP(httptest.NewRecorder(), r)
				c.drop(rw)
			default:
				next.ServeHTTP(rw, r)
				if write {
					c.after.Store(true)
				}
			}
		})
	}
	w.up()
	return c
}

func figure(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

// soon waits for a state of the records.
func soon(t *testing.T, is func() bool, says string, args ...any) {
	t.Helper()
	require.Eventually(t, is, 30*time.Second, 50*time.Millisecond, append([]any{says}, args...)...)
}

// Trials, decisions and the intake, with the network cut before a write, after it, and after its answer: each is written
// once, in order, and nothing that was typed is lost.
func TestTheDeskWithTheNetworkCut(t *testing.T) {
	w := start(t)
	c := w.cut()
	runner := w.programmed(testkit.Profile())
	p := w.signedIn()
	at := func(step string) { p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/" + step) }
	for cut, where := range points {
		at("intake")
		reads(t, p, "Save the intake")
		mass := map[point]string{beforeWrite: "71", afterWrite: "72", afterwards: "73"}[cut]
		version := w.chart(runner).Version
		fill(p, "Body mass", mass)
		c.cut(cut)
		press(p, "^Save the intake$")
		soon(t, func() bool { return c.met() }, where)
		assert.Equal(t, mass, field(p, "Body mass").MustProperty("value").Str(), where)
		if cut != afterwards { // a browser may try once more by itself
			reads(t, p, "The server cannot be reached. What you typed is still here")
		}
		c.cut(whole)
		if cut != afterwards {
			press(p, "^Save the intake$")
		}
		soon(t, func() bool { return w.chart(runner).Version > version }, where)
		until(t, p, "is done", `() => !document.body.innerText.includes("The server cannot be reached")`)
		o := w.chart(runner)
		assert.Equal(t, mass, figure(o.Profile.MassKg), where)
		assert.Equal(t, version+1, o.Version, "%s: saved once", where)
	}
	w.trialsWithTheNetworkCut(c, p, runner, func() { at("screen") })
}

// trialsWithTheNetworkCut: who types on while nothing gets through loses nothing, not even over a reload of the page.
func (w *world) trialsWithTheNetworkCut(c *cutting, p *rod.Page, runner string, room func()) {
	t := w.t.(*testing.T)
	room()
	startFull(t, p)
	station(t, p, "Ankle")
	want := []float64{}
	trials := func() (out []float64) {
		for _, x := range w.chart(runner).Screens[0].Trials {
			out = append(out, x.Value)
		}
		return out
	}
	for i, cut := range []point{beforeWrite, afterWrite, afterwards} {
		side := []string{"left", "right", "left"}[i]
		box := p.MustElement(`input[aria-label^="Knee to wall, ` + side + `"]`)
		values := [][]float64{{6, 6.5}, {10, 10.5}, {7, 7.5}}[i]
		c.cut(cut)
		for _, v := range values {
			box.MustInput(figure(v)).MustType(input.Enter)
		}
		soon(t, func() bool { return c.met() }, points[cut])
		if cut != afterwards {
			reads(t, p, "not kept yet. The server cannot be reached. Go on")
		}
		if cut == beforeWrite { // the page is closed and opened again before there is signal
			c.cut(whole)
			room()
			station(t, p, "Ankle")
		}
		c.cut(whole)
		want = append(want, values...)
		soon(t, func() bool { return len(trials()) == len(want) }, points[cut])
		until(t, p, "has kept them", `() => !document.body.innerText.includes("on its way")`)
		assert.Equal(t, want, trials(), "%s: once, in the order they were entered", points[cut])
	}
	// What the server does not take says so and keeps nothing else back.
	box := p.MustElement(`input[aria-label^="Knee to wall, right"]`)
	box.MustInput("400").MustType(input.Enter)
	box.MustInput("11").MustType(input.Enter)
	reads(t, p, "not kept: ", "400")
	soon(t, func() bool { return len(trials()) == len(want)+1 }, "the next one")
	tap(p.MustElement(`button[aria-label^="Take away 400"]`))
	until(t, p, "is rid of it", `() => !document.body.innerText.includes("not kept: ")`)
}

// A screen that is asked for while a trial is entered, and answers late, does not take the trial away again.
func TestALateAnswerOverwritesNothing(t *testing.T) {
	w := start(t)
	var hold atomic.Bool
	var held sync.WaitGroup
	holding := make(chan struct{}, 10)
	w.down()
	w.before = func(next http.Handler) http.Handler {
		return http.HandlerFunc(func(rw http.ResponseWriter, r *http.Request) {
			if r.Method == http.MethodGet && strings.HasSuffix(r.URL.Path, "/screens") && hold.Load() {
				answer := httptest.NewRecorder()
				next.ServeHTTP(answer, r) // as it was then
				holding <- struct{}{}
				held.Wait()
				rw.Header().Set("Content-Type", answer.Header().Get("Content-Type"))
				_, _ = rw.Write(answer.Body.Bytes())
				return
			}
			next.ServeHTTP(rw, r)
		})
	}
	w.up()
	runner := w.programmed(testkit.Profile())
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/screen")
	startFull(t, p)
	station(t, p, "Ankle")
	held.Add(1)
	hold.Store(true)
	<-holding // the page has asked, as it does every few seconds
	hold.Store(false)
	keepTrial(t, p, "Knee to wall", "left", "6.5")
	held.Done()
	keepTrial(t, p, "Knee to wall", "left", "7") // the late answer has come and gone
	assert.Len(t, w.chart(runner).Screens[0].Trials, 2)
	assert.Len(t, p.MustElements(`button[aria-label^="Remove"]`), 2, "both stand on the page")
}

// Two coaches on one screen: what each enters stands at the other's, and neither takes the other's away.
func TestTwoCoachesOnOneScreen(t *testing.T) {
	w := start(t)
	runner := w.programmed(testkit.Profile())
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/screen")
	startFull(t, p)
	station(t, p, "Ankle")
	q := w.signedIn()
	q.MustNavigate("http://" + w.addr + "/runners/" + runner + "/screen")
	station(t, q, "Ankle")
	keepTrial(t, p, "Knee to wall", "left", "6")
	q.MustElement(`input[aria-label^="Knee to wall, right"]`).MustInput("10").MustType(input.Enter)
	p.MustElement(`input[aria-label^="Knee to wall, left"]`).MustInput("6.5").MustType(input.Enter)
	for _, page := range []*rod.Page{p, q} {
		until(t, page, "shows all three", kept, 3)
	}
	values := map[float64]bool{}
	for _, x := range w.chart(runner).Screens[0].Trials {
		values[x.Value] = true
	}
	assert.Equal(t, map[float64]bool{6: true, 6.5: true, 10: true}, values)
}

// A decision with the network cut is taken once, and its line leaves the queue.
func TestADecisionWithTheNetworkCut(t *testing.T) {
	w := start(t)
	c := w.cut()
	p := w.signedIn()
	for _, cut := range []point{beforeWrite, afterWrite, afterwards} {
		runner := w.programmed(testkit.Profile())
		o := w.chart(runner)
		row := o.Prescriptions[0]
		require.NoError(t, w.desk.AddLog(t.Context(), w.desk.Actor, runner, room.Entry{Prescription: row.ID, Log: adjust.Log{ID: store.NewID(),
			On: o.Today, Done: []int{row.Dose.Amount()}, RPE: 5, Pain: 6, Source: "phone", Faults: []string{}}}))
		choose(p, "nav a", "^Today$")
		p.MustReload()
		reads(t, p, "pain during work is above its limit: back one")
		c.cut(cut)
		press(p, "^Accept$")
		soon(t, func() bool { return c.met() }, points[cut])
		if cut != afterwards {
			reads(t, p, "The server cannot be reached")
		}
		c.cut(whole)
		if cut == beforeWrite {
			assert.Zero(t, w.decided(runner), "nothing was decided")
			press(p, "^Accept$")
		}
		until(t, p, "is rid of the line", `() => !document.body.innerText.includes("pain during work is above its limit")`)
		assert.Equal(t, 1, w.decided(runner), points[cut])
	}
}

// decided counts what coaches decided.
func (w *world) decided(runner string) (n int) {
	for _, d := range w.chart(runner).Decisions {
		if d.Coach != "" {
			n++
		}
	}
	return n
}

// Two phones of one runner, both without signal, and the network cut while they send: each report arrives once.
func TestTwoPhonesWithTheNetworkCut(t *testing.T) {
	w := start(t)
	c := w.cut()
	runner := w.programmed(testkit.Profile())
	link := "/phone#" + w.linked(runner)
	one := w.open(link, 390, 844)
	reads(t, one, "First steps")
	other := (&world{t: w.t, desk: w.desk, b: w.b.MustIncognito(), addr: w.addr}).open(link, 390, 844)
	reads(t, other, "First steps")
	w.down()
	for _, ph := range []*rod.Page{one, other} {
		press(ph, "^Nothing felt$")
		reads(t, ph, "not sent yet", "No signal")
	}
	c.cut(afterWrite)
	w.up()
	for _, ph := range []*rod.Page{one, other} {
		ph.MustEval(`() => window.dispatchEvent(new Event("online"))`)
	}
	soon(t, func() bool { return c.lost.Load() > 1 }, "answers are lost")
	c.cut(whole)
	for _, ph := range []*rod.Page{one, other} {
		ph.MustEval(`() => window.dispatchEvent(new Event("online"))`)
		until(t, ph, "has sent everything", allSent)
	}
	ids := map[string]int{}
	for _, m := range w.chart(runner).Mornings {
		ids[m.ID]++
	}
	o := w.chart(runner)
	assert.Len(t, ids, 2*(len(o.Phone(w.desk.Now()).Watched)+1), "each phone's places and the rest, once")
}
