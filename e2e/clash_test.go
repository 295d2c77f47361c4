package e2e

import (
	"context"
	"slices"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/store"
	"notchback/internal/testkit"
)

// Two coaches change one rail: who comes second sees both versions, chooses for what both changed, and loses nothing.
func TestTwoCoachesChangeOneRail(t *testing.T) {
	w := start(t)
	p, q := w.signedIn(), w.signedIn()
	for _, page := range []*rod.Page{p, q} {
		choose(page, "nav a", "^Library$")
		choose(page, "button", "^Foot circles")
		press(page, "Change for our practice")
	}
	fill(p, "Name", "Waking the foot")
	fill(p, "Short, for the week", "Waking")
	press(p, "Keep for our practice")
	reads(t, p, "Waking the foot", "As it ships again")

	fill(q, "Name", "Circles, slowly")
	fill(q, "Sessions a week", "4")
	press(q, "Keep for our practice")
	reads(t, q, "Test Coach changed this rail meanwhile.", "Yours: Circles, slowly", "Theirs: Waking the foot", "Choose 1 more")
	choose(q, "[role=radio]", "^theirs$")
	press(q, "^Go on from there$")
	until(t, q, "is laid together", `() => !document.body.innerText.includes("changed this rail meanwhile")`)
	assert.Equal(t, "Waking the foot", field(q, "Name").MustProperty("value").Str(), "as chosen")
	assert.Equal(t, "Waking", field(q, "Short, for the week").MustProperty("value").Str(), "theirs alone")
	assert.Equal(t, "4", field(q, "Sessions a week").MustProperty("value").Str(), "typed here alone")
	press(q, "Keep for our practice")
	reads(t, q, "Waking the foot", "4 a week")
}

// A house rule that a colleague changed meanwhile: both versions stand there, and one is chosen.
func TestTwoCoachesChangeARule(t *testing.T) {
	w := start(t)
	p, q := w.signedIn(), w.signedIn()
	const rule = "The core screen takes at most"
	for _, page := range []*rod.Page{p, q} {
		choose(page, "nav a", "^House rules$")
		reads(t, page, rule)
	}
	set := func(page *rod.Page, value string) {
		field(page, rule).MustSelectAllText().MustInput(value)
		row := page.MustElementByJS(`() => document.getElementById("screen.core.minutes")`)
		tap(row.MustElementR("button", "^Change$"))
	}
	now := func() float64 {
		var h store.House
		require.NoError(t, w.desk.Store.In(context.Background(), w.desk.Actor.Practice, func(tx *store.Tx) (err error) {
			h, err = tx.House(context.Background())
			return err
		}))
		return h.Rules.Get("screen.core.minutes")
	}
	set(p, "25")
	until(t, p, "is changed", `() => document.getElementById("screen.core.minutes").innerText.includes("Back to 20")`)
	set(q, "30")
	reads(t, q, "Somebody changed this rule meanwhile.", "Theirs: 25 min", "Yours: 30 min")
	assert.InDelta(t, 25, now(), 0, "nothing is overwritten unasked")
	press(q, "^Yours: 30 min$")
	until(t, q, "is settled", `() => !document.body.innerText.includes("meanwhile")`)
	require.Eventually(t, func() bool { return now() == 30 }, time.Minute, 20*time.Millisecond, "the page is settled before it is written")
	set(p, "35")
	reads(t, p, "Theirs: 30 min")
	press(p, "^Theirs: 30 min$")
	until(t, p, "shows theirs", `() => document.querySelector('[aria-label="The core screen takes at most"]').value === "30"`)
	assert.InDelta(t, 30, now(), 0)
}

// carry moves a session by keyboard to another day at the same time of the day.
func carry(t *testing.T, p *rod.Page, rail string, from, to int) {
	t.Helper()
	p.MustElementByJS(sessionAt, rail, from).MustFocus()
	p.Keyboard.MustType(input.Enter)
	reads(t, p, "is picked up")
	key := input.ArrowRight
	if to < from {
		key = input.ArrowLeft
	}
	for range max(to-from, from-to) {
		p.Keyboard.MustType(key)
	}
	p.Keyboard.MustType(input.Enter)
}

// Two coaches move one session: who comes second sees where it stands now beside the own move, and chooses.
func TestTwoCoachesMoveOneSession(t *testing.T) {
	w := start(t)
	runner := w.programmed(testkit.Profile())
	p, q := w.signedIn(), w.signedIn()
	for _, page := range []*rod.Page{p, q} {
		page.MustNavigate("http://" + w.addr + "/runners/" + runner + "/week")
		reads(t, page, "Days ahead")
	}
	from := standsOn(t, p, "Ankle bend")
	slot := p.MustEval(`r => [...document.querySelectorAll("td[data-cell] button")].find((b) =>
		`+isRail+`).closest("td").dataset.cell.slice(2)`,
		"Ankle bend").Str()
	free := p.MustEval(`async (runner, from, slot) => {
		const a = await fetch("/api/runners/" + runner + "/week/moves?rail=ankle_bend&from=" + from);
		return (await a.json()).filter((x) => x.refused === "" && x.weekday !== from && x.slot === slot).map((x) => x.weekday);
	}`, runner, from, slot).Arr()
	require.GreaterOrEqual(t, len(free), 2)
	sessions := len(w.stand(runner))
	carry(t, p, "Ankle bend", from, free[0].Int())
	reads(t, p, "Ankle bend moved to")
	carry(t, q, "Ankle bend", from, free[1].Int())
	reads(t, q, "Somebody changed this week meanwhile.", "Theirs: ", "Yours: ")
	assert.Contains(t, w.stand(runner), free[0].Int())
	assert.NotContains(t, w.stand(runner), free[1].Int(), "nothing is overwritten unasked")
	press(q, "^Yours: ")
	until(t, q, "is settled", `() => !document.body.innerText.includes("meanwhile")`)
	require.Eventually(t, func() bool { return slices.Contains(w.stand(runner), free[1].Int()) }, 10*time.Second, 20*time.Millisecond)
	assert.NotContains(t, w.stand(runner), free[0].Int(), "it is one session, moved twice")
	assert.Len(t, w.stand(runner), sessions)
}

// stand are the weekdays on which the week in force has a session of ankle bend.
func (w *world) stand(runner string) (days []int) {
	chart := w.chart(runner)
	week := chart.Programme.Plan.Week
	if len(chart.Weeks) > 0 {
		week = chart.Weeks[0].Week
	}
	for day, d := range week.Days {
		for _, e := range d.Entries {
			if e.Rail == "ankle_bend" {
				days = append(days, day)
			}
		}
	}
	return days
}
