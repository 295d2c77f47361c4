package e2e

import (
	"context"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/testkit"
)

// A coach reads and types inches and pounds, a runner miles; the record holds centimetres, kilograms and kilometres.
func TestUnitsAreEverybodysOwn(t *testing.T) {
	w := start(t)
	runner := w.desk.Runner(t, testkit.Profile())
	w.desk.AskSigns(t, runner)
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/practice")
	reads(t, p, "What you read figures in")
	choose(p, "[role=radio]", "^inches$")
	choose(p, "[role=radio]", "^pounds$")
	reads(t, p, "Kept.")

	p.MustNavigate("http://" + w.addr + "/runners/" + runner)
	reads(t, p, "Body mass")
	fill(p, "Body mass", "150")
	fill(p, "Dumbbells", "10 20")
	press(p, "^Save")
	reads(t, p, "Saved")
	o, err := w.desk.Chart(context.Background(), w.desk.Actor, runner)
	require.NoError(t, err)
	assert.InDelta(t, 150*0.45359237, o.Profile.MassKg, 1e-3, "NIST SP 811")
	assert.InDeltaSlice(t, []float64{10 * 0.45359237, 20 * 0.45359237}, o.Profile.Equipment.DumbbellsKg, 1e-3)

	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/screen")
	startFull(t, p)
	station(t, p, "Ankle")
	p.MustElement(`input[aria-label^="Knee to wall, left"]`).MustInput("40").MustType(input.Enter)
	reads(t, p, "enter 0 to 11.8 in")
	for range 3 {
		keepTrial(t, p, "Knee to wall", "left", "4")
		keepTrial(t, p, "Knee to wall", "right", "5.5")
	}
	choose(p, "[role=button]", `4\.00 in`)
	reads(t, p, "mean of 4, 4, 4 = 4 in")

	ph := w.open("/phone#"+w.linked(runner), 390, 844)
	reads(t, ph, "Units")
	choose(ph, "summary", "^Units$")
	choose(ph, "[role=radio]", "^miles$")
	reads(t, ph, "Kept.")
	press(ph, "Enter a run")
	fill(ph, "Minutes", "50")
	fill(ph, "Distance", "6.2")
	tap(ph.MustElement(`button[aria-label="Pain while running: 0"]`))
	press(ph, "Keep the run")
	until(t, ph, "has sent", `() => [...document.querySelectorAll("button")].some((b) => b.innerText === "Enter a run") &&
		!document.body.innerText.includes("not sent yet")`)
	o, err = w.desk.Chart(context.Background(), w.desk.Actor, runner)
	require.NoError(t, err)
	require.Len(t, o.Runs, 1)
	assert.InDelta(t, 9.978, o.Runs[0].Km, 0.001, "6.2 × 1.609344")
}
