package e2e

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/testkit"
)

// everythingKept is all that a page's storage holds, as text.
const everythingKept = `async () => {
	const d = await new Promise((done) => { const r = indexedDB.open("notchback-phone"); r.onsuccess = () => done(r.result); });
	const t = d.transaction([...d.objectStoreNames]);
	const all = await Promise.all([...d.objectStoreNames].map((s) =>
		new Promise((done) => { const r = t.objectStore(s).getAll(); r.onsuccess = () => done(r.result); })));
	return JSON.stringify([all, { ...localStorage }, location.href, document.cookie]);
}`

// One link on two phones, the second by a short code; each is listed and ended by itself, and the link's secret stays on none.
func TestOneLinkOnTwoPhones(t *testing.T) {
	w := start(t)
	runner := w.programmed(testkit.Profile())
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/intake")
	press(p, "Make a private link")
	address := p.MustElementR("p.fig", "/phone#").MustText()
	secret := address[len(address)-22:]
	reads(t, p, "One link is live", "It was not opened yet")

	first := w.open("/phone#"+secret, 390, 844)
	reads(t, first, "First steps")
	require.Eventually(t, func() bool { return !strings.Contains(first.MustEval(everythingKept).Str(), secret) }, 20*time.Second,
		50*time.Millisecond, "the link's secret is kept nowhere")
	first.MustReload()
	reads(t, first, "First steps")
	choose(first, "summary", "Another phone, or the home screen")
	press(first, "Make a code")
	code := first.MustElementR("strong", "^[A-Z2-7]{4}-[A-Z2-7]{4}$").MustText()

	second := w.b.MustIncognito()
	ours := w.b
	w.b = second
	ph := w.open("/phone", 390, 844)
	w.b = ours
	reads(t, ph, "No link here", "Or type a short code")
	fill(ph, "Or type a short code", "AAAA-AAAA")
	press(ph, "^Open$")
	reads(t, ph, "The code does not fit, was used, or is older than ten minutes")
	fill(ph, "Or type a short code", code)
	press(ph, "^Open$")
	reads(t, ph, "First steps")

	p.MustReload()
	until(t, p, "lists both", `() => document.querySelectorAll('[aria-label="Devices the link is open on"] li').length === 2`)
	ends := p.MustElements(`[aria-label="Devices the link is open on"] button`)
	require.Len(t, ends, 2)
	assert.Contains(t, p.MustElement(`[aria-label="Devices the link is open on"]`).MustText(), "last used")
	press(p, "^Make a short code$")
	reads(t, p, "opens it on one more device, once, within ten minutes")
	ends[0].MustWaitEnabled()
	tap(ends[0]) // used last: the second phone
	until(t, p, "lists one", `() => document.querySelectorAll('[aria-label="Devices the link is open on"] li').length === 1`)
	ph.MustReload()
	reads(t, ph, "This link has ended", "Or type a short code")
	first.MustReload()
	reads(t, first, "First steps")

	// The same address tapped again opens it again.
	first.MustNavigate("about:blank")
	first.MustNavigate("http://" + w.addr + "/phone#" + secret)
	reads(t, first, "First steps")
	until(t, first, "cleans the address", `() => location.hash === ""`)
}
