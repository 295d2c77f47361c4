package api_test

import (
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/api"
	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/screen"
	"notchback/internal/record"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

func TestAScreenOverHTTP(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner := d.Runner(t, testkit.Profile())
	base := "/api/runners/" + runner
	scr := d.Begin(t, runner)
	put := func(id string, b map[string]any) (int, string) {
		return c.do("PUT", base+"/screens/"+scr+"/trials/"+id, b)
	}
	id := store.NewID()
	knee := map[string]any{"measure": "ankle.knee_to_wall", "side": "left", "value": 9.5, "faults": []string{"knee_in"}}
	for range 3 { // sent three times, kept once
		status, text := put(id, knee)
		require.Equal(t, 200, status, text)
	}
	var v room.Screening
	c.must("GET", base+"/screens", nil, &v)
	require.NotNil(t, v.Current)
	require.Len(t, v.Current.Trials, 1)
	assert.Equal(t, "Test Coach", v.Current.Trials[0].By)
	require.Len(t, v.Readings, 1)
	assert.Equal(t, []string{id}, v.Readings[0].Trials)
	require.Len(t, v.Findings, 1)
	assert.Equal(t, screen.Borderline, v.Findings[0].Verdict)
	assert.InDelta(t, 0.98, v.Findings[0].Half, 1e-9, "1.96 × 0.5 cm")

	// Removed and put back; the row never goes.
	c.must("DELETE", base+"/screens/"+scr+"/trials/"+id, nil, &v)
	assert.Empty(t, v.Current.Trials)
	c.must("POST", base+"/screens/"+scr+"/trials/"+id+"/restore", nil, &v)
	assert.Len(t, v.Current.Trials, 1)

	refusedTrials(t, put)
	// Two ways of running are two readings.
	for pace, n := range map[string]float64{"easy": 42, "fast": 46} {
		status, text := put(store.NewID(), map[string]any{"measure": "gait.cadence", "side": "both", "value": 0, "parts": []float64{n},
			"context": map[string]any{"pace": pace, "shod": "shoes", "tired": false}})
		require.Equal(t, 200, status, text)
	}
	c.must("GET", base+"/screens", nil, &v)
	cadence := map[string]float64{}
	for _, r := range v.Readings {
		if r.Measure == "gait.cadence" {
			cadence[r.Context] = r.Value
		}
	}
	assert.Equal(t, map[string]float64{"easy, shoes": 170, "fast, shoes": 186}, cadence)

	finished(t, d, c, base, scr)
}

// finished: the rooms after a screen.
func finished(t *testing.T, d *testkit.Desk, c *client, base, scr string) {
	var done room.Screening
	c.must("POST", base+"/screens/"+scr+"/finish", nil, &done)
	assert.Nil(t, done.Current)
	assert.Equal(t, 2, done.Past[0].Measures)
	var r room.Read
	c.must("GET", base+"/read", nil, &r)
	assert.NotEmpty(t, r.Chain)
	assert.NotEmpty(t, r.Retest)
	var again room.Retests
	c.must("GET", base+"/retest", nil, &again)
	assert.Empty(t, again.SinceLast)
	assert.Equal(t, body.DateOf(d.Now().UTC()).Add(28), again.Next)
	var note room.Referral
	c.must("GET", base+"/referral", nil, &note)
	assert.Empty(t, note.Stops)
	assert.Equal(t, body.DateOf(d.Now().UTC()), note.Asked)
}

// refusedTrials say what to do.
func refusedTrials(t *testing.T, put func(id string, b map[string]any) (int, string)) {
	for _, x := range []struct {
		b    map[string]any
		want string
	}{
		{map[string]any{"measure": "gait.cadence", "side": "both", "value": 0, "parts": []float64{42}}, "say how they ran"},
		{map[string]any{"measure": "gait.cadence", "side": "both", "value": 0, "parts": []float64{5},
			"context": map[string]any{"pace": "easy", "shod": "shoes", "tired": false}}, "enter 10 to 80"},
		{map[string]any{"measure": "gait.cadence", "side": "both", "value": 0,
			"context": map[string]any{"pace": "easy", "shod": "clogs", "tired": false}}, "shod"},
		{map[string]any{"measure": "calf.rm", "side": "left", "value": 0, "parts": []float64{20, 8}},
			"no repetition maximum: never on a first visit"},
		{map[string]any{"measure": "walk.heels", "side": "left", "value": 4}, "tap the place"},
		{map[string]any{"measure": "walk.heels", "side": "left", "value": 4, "where": "elbow"}, "tap the place"},
		{map[string]any{"measure": "foot.posture_index", "side": "left", "value": 0, "parts": []float64{1, 1}},
			"needs talar head, curves at the outer ankle"},
	} {
		status, text := put(store.NewID(), x.b)
		assert.Equal(t, 422, status, text)
		assert.Contains(t, text, x.want)
	}
}

func TestTheHouseOverHTTP(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner := d.Runner(t, testkit.Profile())
	d.Screen(t, runner, testkit.Usual)
	for _, x := range []struct {
		method, path string
		body         any
		want         string
	}{
		{"PUT", "/api/plates", map[string]any{"platesMm": []float64{5, -1}}, "has -1 mm; enter thicknesses over 0 up to 100 mm"},
		{"PUT", "/api/core-stations", map[string]any{"stations": []string{"moon"}}, "is not a station"},
		{"PUT", "/api/approaches/pain", map[string]any{"choice": "heroic"}, "not one of the options"},
		{"PUT", "/api/approaches/luck", map[string]any{"choice": "good"}, "not one of the options"},
		{"POST", "/api/house/balance.steady/effect", map[string]any{"value": 5}, "enter 20 to 45 s"},
		{"POST", "/api/house/no.such.rule/effect", map[string]any{"value": 5}, "there is no house rule"},
		{"PUT", "/api/runners/" + runner + "/checks/" + store.NewID(), map[string]any{"denied": []string{"chest"}, "source": "screen"},
			"23 warning signs are not answered yet"},
	} {
		status, text := c.do(x.method, x.path, x.body)
		assert.Equal(t, http.StatusUnprocessableEntity, status, "%s %s: %s", x.method, x.path, text)
		assert.Contains(t, text, x.want)
	}
	c.must("PUT", "/api/plates", map[string]any{"platesMm": []float64{3, 6}}, nil)
	c.must("PUT", "/api/core-stations", map[string]any{"stations": []string{"walks", "ankle"}}, nil)
	c.must("PUT", "/api/approaches/cadence", map[string]any{"choice": "leave"}, nil)
	var ref api.Reference
	c.must("GET", "/api/reference", nil, &ref)
	assert.Equal(t, []float64{3, 6}, ref.PlatesMm)
	assert.Equal(t, []string{"walks", "ankle"}, ref.Core)
	assert.Equal(t, map[string]string{"cadence": "leave"}, ref.Chosen)
	assert.Len(t, ref.House, len(house.All))
	assert.Len(t, ref.Measures, len(screen.Measures))
	var v room.Screening
	c.must("GET", "/api/runners/"+runner+"/screens", nil, &v)
	require.Len(t, v.Stacks, 3, "3, 6 and 9 mm from the coach's own plates")
	c.must("PUT", "/api/plates", map[string]any{"platesMm": []float64{}}, nil)
	c.must("GET", "/api/runners/"+runner+"/screens", nil, &v)
	assert.Len(t, v.Stacks, 7, "the runner's 5, 10 and 20 mm")
	var effects []room.Effect
	c.must("POST", "/api/house/ankle.knee_to_wall.ref/effect", map[string]any{"value": 6}, &effects)
	require.Len(t, effects, 1)
	assert.True(t, strings.HasPrefix(effects[0].Changes[0], "Knee to wall, left: short → "), fmt.Sprint(effects[0].Changes))
	c.must("POST", "/api/approaches/strike/effect", map[string]any{"choice": "middle"}, &effects)
	assert.Empty(t, effects)
	var typical []screen.Typical
	c.must("GET", "/api/typical-errors", nil, &typical)
	assert.Empty(t, typical)
	var history []store.HouseChange
	c.must("GET", "/api/house-history", nil, &history)
	require.Len(t, history, 4)
	assert.Equal(t, "plates.mm", history[0].Key)
	assert.Equal(t, "walks ankle", history[2].Choice)
}

// What one practice chooses and keeps is another's neither to see nor to change.
func TestTheNewRecordsStayInTheirPractice(t *testing.T) {
	d, srv := server(t)
	mine := d.Runner(t, testkit.Profile())
	d.AskSigns(t, mine)
	require.NoError(t, d.FillIn(ctx, d.Actor, mine, record.Form{ID: store.NewID(), Profile: testkit.Profile()}))
	signedIn(t, srv.URL, email).must("PUT", "/api/plates", map[string]any{"platesMm": []float64{3}}, nil)
	other, coach, err := d.Store.CreatePractice(ctx, "Other", "Other", "other@test.example")
	require.NoError(t, err)
	give(t, d.Store, other, coach)
	c := signedIn(t, srv.URL, "other@test.example")
	var ref api.Reference
	c.must("GET", "/api/reference", nil, &ref)
	assert.Empty(t, ref.PlatesMm)
	assert.Zero(t, ref.Version)
	var history []store.HouseChange
	c.must("GET", "/api/house-history", nil, &history)
	assert.Empty(t, history)
	for _, table := range []string{"sign_checks", "intake_forms"} {
		require.NoError(t, d.Store.In(ctx, other, func(tx *store.Tx) error {
			var n int
			err := tx.QueryRow(ctx, "SELECT count(*) FROM "+table).Scan(&n)
			assert.Zero(t, n, table)
			return err
		}))
	}
}
