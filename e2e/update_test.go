package e2e

import (
	"context"
	_ "embed"
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

//go:embed testdata/worker-2026.11.11.js
var earlierWorker []byte

// What a phone of release 2026.11.11 holds, worker, kept page and unsent reports, is there after the update: everything
// is sent once, the page opens without signal, and the worker that stood before the coach's pages is gone.
func TestAnUpdateOfThePhoneLosesNothing(t *testing.T) {
	w := start(t)
	runner := w.programmed(testkit.Profile())
	token := w.linked(runner)
	w.down()
	w.before = func(next http.Handler) http.Handler {
		return http.HandlerFunc(func(rw http.ResponseWriter, r *http.Request) {
			if r.URL.Path == "/sw.js" {
				rw.Header().Set("Content-Type", "text/javascript")
				rw.Header().Set("Cache-Control", "no-cache")
				_, _ = rw.Write(earlierWorker)
				return
			}
			next.ServeHTTP(rw, r)
		})
	}
	w.up()
	ph := w.open("/notch.svg", 390, 844)
	today := body.DateOf(w.desk.Now().UTC())
	ph.MustEval(`async (link, runner, today, sign, morning) => {
		localStorage.link = link;
		localStorage.bundle = JSON.stringify({ runner, release: "2026.11.10" });
		localStorage.locked = JSON.stringify(["Stop, and call your coach."]);
		localStorage.outbox = JSON.stringify([
			{ id: morning, kind: "mornings", label: "First steps", runner, body: { on: today, region: "heel_sole", side: "left", pain: 4 } },
			{ id: sign, kind: "signs", label: "Warning sign", runner, body: { sign: "fever", region: "calf", side: "left", on: today, which: [] } },
		]);
		await navigator.serviceWorker.register("/sw.js");
		await navigator.serviceWorker.ready;
		const kept = await caches.open("notchback-pages-1");
		const files = [...(await (await fetch("/phone")).text()).matchAll(/"(\/assets\/[^"]+)"/g)].map((m) => m[1]);
		await kept.addAll(["/phone", ...files]);
	}`, token, runner, today, store.NewID(), store.NewID())

	w.down()
	w.before = nil
	ph.MustNavigate("http://" + w.addr + "/phone") // the earlier worker opens the kept page without signal
	reads(t, ph, "Stop, and call your coach.", "2 not sent yet")
	w.up()
	ph.MustReload()
	require.Eventually(t, func() bool {
		o, err := w.desk.Chart(context.Background(), w.desk.Actor, runner)
		return err == nil && len(o.Mornings) == 1 && len(o.Stops) == 1
	}, 20*time.Second, 50*time.Millisecond)
	require.Eventually(t, func() bool {
		v, err := ph.Eval(`async () => {
		const all = await navigator.serviceWorker.getRegistrations();
		const kept = await caches.keys();
		return all.length === 1 && new URL(all[0].scope).pathname === "/phone" && kept.join() === "notchback-phone-1" &&
			!("outbox" in localStorage) && !("link" in localStorage);
		}`)
		return err == nil && v.Value.Bool()
	}, 20*time.Second, 50*time.Millisecond, "it has its own worker alone")
	reads(t, ph, "Fever, or feeling ill with it?")
	w.down()
	ph.MustReload()
	reads(t, ph, "Fever, or feeling ill with it?", "No signal")
	o, err := w.desk.Chart(context.Background(), w.desk.Actor, runner)
	require.NoError(t, err)
	assert.Equal(t, 4, o.Mornings[0].Pain)
}
