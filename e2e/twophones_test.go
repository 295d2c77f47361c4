package e2e

import (
	"bytes"
	"context"
	"net/http"
	"net/http/httptest"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// looksAgain has a phone ask the server now, as it does when its page is seen again.
const looksAgain = `() => document.dispatchEvent(new Event("visibilitychange"))`

// TestASessionOnTwoPhones: the same session is begun on one phone and played on another; what each did arrives once. Then the link
// ends in the middle of a set: nothing more is begun, what was done is told, and leaves with the next link.
func TestASessionOnTwoPhones(t *testing.T) {
	w := start(t)
	runner := w.programmed(testkit.Profile())
	a := w.playerOf(runner, 6)
	press(a.ph, "^Start the session")
	a.playTo("3 of 6", "4")

	ours, other := w.b, w.b.MustIncognito()
	w.b = other
	b := &player{world: w, ph: w.open("/phone", 390, 844)}
	w.b = ours
	b.ph.MustNavigate("http://" + w.addr + "/phone#" + w.linked(runner))
	reads(t, b.ph, "First steps")
	b.pass(a.on)
	b.ph.MustReload()
	press(b.ph, "^Start the session")
	b.play("4")
	b.answer("Pain, left", "0")
	b.answer("Pain, right", "0")
	b.touch("^Keep it")
	soon(t, func() bool { return len(w.chart(runner).Logs) >= 9 }, "the second phone's session")
	until(t, b.ph, "has sent everything", allSent)
	once := len(w.chart(runner).Logs)
	b.ph.MustEval(looksAgain)
	until(t, b.ph, "has nothing left to begin", `() => ![...document.querySelectorAll("button")].some((b) => /^Start/.test(b.innerText))`)

	ctx := context.Background()
	for _, l := range w.chart(runner).Links {
		require.NoError(t, w.desk.Touch(ctx, w.desk.Actor, runner, func(tx *store.Tx) error { return tx.RevokeLink(ctx, runner, l.ID) }))
	}
	a.ph.MustEval(looksAgain)
	reads(t, a.ph, "How was it?", "No more training until your coach has been in touch")
	a.answer("Pain, left", "2")
	a.answer("Pain, right", "0")
	a.touch("^Keep it")
	reads(t, a.ph, "not sent yet")
	assert.Len(t, w.chart(runner).Logs, once, "the link has ended")
	a.ph.MustNavigate("about:blank")
	a.ph.MustNavigate("http://" + w.addr + "/phone#" + w.linked(runner))
	until(t, a.ph, "has sent everything", allSent)
	logs := w.chart(runner).Logs
	assert.Greater(t, len(logs), once)
	assert.LessOrEqual(t, len(logs), once+6, "two exercises and what was in hand, no side of them twice")
	ids := map[string]bool{}
	for i, l := range logs {
		assert.False(t, ids[l.ID], "each once")
		ids[l.ID] = true
		assert.True(t, i == 0 || l.Seq > logs[i-1].Seq, "in order")
	}
}

// TestAnUpdateInTheMiddleOfASession: the server is of another release when a set is under way: the session is played to its end and
// arrives, and then the newer page is loaded.
func TestAnUpdateInTheMiddleOfASession(t *testing.T) {
	w := start(t)
	runner := w.programmed(testkit.Profile())
	p := w.playerOf(runner, 6)
	press(p.ph, "^Start the session")
	p.touch("^Start$")
	p.pass(10 * time.Second)
	w.down()
	w.before = func(next http.Handler) http.Handler {
		return http.HandlerFunc(func(out http.ResponseWriter, r *http.Request) {
			if r.URL.Path != "/api/phone" {
				next.ServeHTTP(out, r)
				return
			}
			r.Header.Del("If-None-Match")
			r.Header.Del("Accept-Encoding")
			then := httptest.NewRecorder()
			next.ServeHTTP(then, r)
			out.Header().Set("Content-Type", "application/json")
			_, _ = out.Write(bytes.ReplaceAll(then.Body.Bytes(), []byte(`"release":"`+core.EngineVersion), []byte(`"release":"2099.1.1`)))
		})
	}
	w.up()
	p.ph.MustEval(looksAgain)
	until(t, p.ph, "knows of it", `() => document.body.innerText.includes("There is a newer version of this page")`)
	assert.NotEqual(t, "nothing", p.shows(), "the set goes on")
	p.play("3")
	p.answer("Pain, left", "0")
	p.answer("Pain, right", "0")
	p.touch("^Keep it")
	soon(t, func() bool { return len(w.chart(runner).Logs) >= 9 }, "it arrives at the newer server")
	w.down()
	w.before = nil
	w.up()
	press(p.ph, "^Load it$")
	until(t, p.ph, "is the newer page", `() => !document.body.innerText.includes("newer version")`)
	until(t, p.ph, "has sent everything", allSent)
}
