package build

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
)

// A run that hurt is a report like any other: above 2 its place is sore, from 7 within four weeks work waits until the coach has
// spoken, and with it no run is ever judged milder than without. Over drawn runs.
func TestARunThatHurtIsAReport(t *testing.T) {
	const today = body.Date("2026-03-30")
	sore, paused := 0, 0
	for seed := range uint64(4000) {
		r := rand.New(rand.NewPCG(seed, 9))
		in := Input{Profile: body.NewProfile(), Today: today, House: house.Rules{}, Spoke: int64(r.IntN(3))}
		in.Profile.BirthDate = "1990-01-01"
		pain := r.IntN(11)
		run := load.Run{On: today.Add(-r.IntN(40) + 2), Minutes: 30, Seq: int64(r.IntN(4)),
			Details: load.Details{Pain: []string{"", "0", "1", "2", "3", "4", "5", "6", "7", "8", "9", "10"}[pain+1]}}
		if r.IntN(4) > 0 {
			run.Region, run.Side = body.RegionNames[r.IntN(len(body.RegionNames))].ID, []body.Side{body.Left, body.Right, body.Both, ""}[r.IntN(4)]
		}
		without := in.Facts()
		in.Runs = []load.Run{run}
		with := in.Facts()
		require.GreaterOrEqual(t, len(with.Sore), len(without.Sore))
		wantSore := pain > 2 && run.On <= today && run.Region != "" && run.Region != body.WholePerson
		assert.Equal(t, wantSore, len(with.Sore) > len(without.Sore), "seed %d: %+v", seed, run)
		wantPause := pain >= 7 && run.On <= today && today.Sub(run.On) <= 28 && run.Seq > in.Spoke
		assert.Equal(t, wantPause, len(with.Pauses) > len(without.Pauses), "seed %d: %+v", seed, run)
		if wantSore {
			sore++
		}
		if wantPause {
			paused++
			hop := body.Demand{Level: 3, Impact: body.FreeHops, Trains: body.BothLegs, Bears: body.BothLegs, Position: "standing"}
			assert.False(t, with.May(permit.Ask{Demand: hop, Side: body.Both}).May(), "seed %d", seed)
		}
	}
	assert.Greater(t, sore, 500)
	assert.Greater(t, paused, 200)
}
