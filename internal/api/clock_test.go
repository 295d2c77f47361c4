package api_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// The server's clock jumps, forward and back, by an hour to ten years, while a phone reports what it did today. A warning sign
// is always taken. What is dated after the server's day is told to wait, in words, and goes in once the clock is right; nothing
// is refused, lost or doubled, and no page breaks, also with what was entered under the wrong clock.
func TestAClockThatJumps(t *testing.T) {
	const day = 24 * time.Hour
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner, _, phone := ready(t, d, c)
	var v room.Phone
	phone.must("GET", "/api/phone", nil, &v)
	set := ""
	for _, s := range v.Sessions {
		for _, i := range s.Items {
			set = i.Sides[0].Prescriptions[0]
		}
	}
	require.NotEmpty(t, set)
	right := v.Today
	waiting := map[string]map[string]any{}
	sent := map[string]int{}
	for _, jump := range []time.Duration{time.Hour, -time.Hour, 3 * day, -3 * day, 40 * day, -40 * day, 70 * day, -400 * day, 3650 * day} {
		d.Shift(jump)
		again := signedIn(t, srv.URL, email)
		phone.must("GET", "/api/phone", nil, &v)
		for _, kind := range []string{"signs", "logs", "mornings", "runs"} {
			for _, on := range []body.Date{right, v.Today} { // as it was before, and as the phone dates it by the server's clock
				at, entry := told(set, kind, on)
				status, said := phone.do("PUT", at, entry)
				if kind != "signs" && on > v.Today {
					assert.Equal(t, 425, status, "%v: %s: %s", jump, kind, said)
					assert.Contains(t, said, "is sent by itself")
					waiting[at] = entry
				} else {
					assert.Equal(t, 200, status, "%v: %s: %s", jump, kind, said)
				}
				sent[kind]++
			}
		}
		for _, page := range []string{"", "/read", "/week", "/adjust", "/retest", "/screens", "/gait"} {
			status, said := again.do("GET", "/api/runners/"+runner+page, nil)
			assert.Equal(t, 200, status, "%v %s: %s", jump, page, said)
		}
		again.must("GET", "/api/today", nil, nil)
		again.must("GET", "/api/runners", nil, nil)
	}
	d.Shift(0)
	assert.NotEmpty(t, waiting)
	for at, entry := range waiting {
		for range 2 {
			phone.must("PUT", at, entry, nil)
		}
	}
	allThere(t, d, runner, sent)
	signedIn(t, srv.URL, email).must("GET", "/api/today", nil, nil)
}

// allThere counts what was sent of each kind, and looks that every sign locks.
func allThere(t *testing.T, d *testkit.Desk, runner string, sent map[string]int) {
	t.Helper()
	for kind, table := range map[string]string{"signs": "stops", "logs": "logs", "mornings": "mornings", "runs": "runs"} {
		var n int
		require.NoError(t, testkit.Admin(t, testkit.LastDatabase()).QueryRow(ctx, "SELECT count(*) FROM "+table).Scan(&n))
		assert.Equal(t, sent[kind], n, kind)
	}
	chart, err := d.Chart(ctx, d.Actor, runner)
	require.NoError(t, err)
	require.NotEmpty(t, chart.Stops)
	for _, s := range chart.Stops {
		assert.True(t, s.Open(), "a sign locks from the moment it was told")
	}
}

// told is what a phone reports of a kind and a day, and where.
func told(set, kind string, on body.Date) (string, map[string]any) {
	at := "/api/phone/" + kind + "/" + store.NewID()
	switch kind {
	case "signs":
		return at, map[string]any{"sign": "swelling", "region": "calf", "side": "left", "on": on}
	case "logs":
		return at, map[string]any{"prescription": set, "on": on, "done": []int{8}, "rpe": 7, "pain": 3}
	case "runs":
		return at, map[string]any{"on": on, "minutes": 30}
	}
	return at, map[string]any{"on": on, "region": "heel_sole", "side": "left", "pain": 4}
}
