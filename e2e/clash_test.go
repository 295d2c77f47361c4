package e2e

import (
	"testing"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"
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
