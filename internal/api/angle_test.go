package api_test

import (
	"encoding/json"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/api"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// TestAPhoneAsAnInstrument: a code is good once and for two minutes; the phone can send angles and learns nothing; the desk sees
// them, ends it, and so does silence. Nothing that was sent is entered by itself.
func TestAPhoneAsAnInstrument(t *testing.T) {
	d := testkit.NewDesk(t, email)
	give(t, d.Store, d.Actor.Practice, d.Actor.Coach)
	elsewhere, owner, err := d.Store.CreatePractice(ctx, "Elsewhere", "Other Coach", "other@test.example")
	require.NoError(t, err)
	give(t, d.Store, elsewhere, owner)
	clock := time.Now()
	srv := httptest.NewServer(api.New(d.Desk, api.Config{Clock: func() time.Time { return clock }}))
	defer srv.Close()
	runner := d.Runner(t, testkit.Profile())
	visit := d.Begin(t, runner)
	c, other, phone := signedIn(t, srv.URL, email), signedIn(t, srv.URL, "other@test.example"), open(t, srv.URL)
	lunge := map[string]any{"measure": "ankle.lunge_angle"}
	var at string
	pair := func() (p api.Pairing) {
		at = "/api/runners/" + runner + "/screens/" + visit + "/phones/" + store.NewID()
		c.must("PUT", at, lunge, &p)
		return p
	}
	send := func(token string, degrees ...float64) int {
		phone.head.Set("Authorization", "Bearer "+token)
		defer phone.head.Del("Authorization")
		status, _ := phone.do("POST", "/api/phone/angle/readings", map[string]any{"degrees": degrees})
		return status
	}
	enter := func(code string, into any) int {
		status, text := phone.do("POST", "/api/phone/angle/codes", map[string]any{"code": code})
		if into != nil {
			require.Equal(t, 200, status, text)
			require.NoError(t, json.Unmarshal([]byte(text), into))
			assert.NotContains(t, text, runner)
			assert.NotContains(t, text, "lunge")
		}
		return status
	}

	p := pair()
	assert.Equal(t, "waiting", p.State)
	var again api.Pairing
	c.must("PUT", at, lunge, &again)
	assert.Equal(t, p, again, "asked again it is the same code")
	status, _ := other.do("GET", at, nil)
	assert.Equal(t, 404, status)
	status, _ = other.do("PUT", at[:len(at)-36]+store.NewID(), lunge)
	assert.Equal(t, 404, status)
	status, text := c.do("PUT", at[:len(at)-36]+store.NewID(), map[string]any{"measure": "balance.open"})
	assert.Equal(t, 422, status, text)
	assert.Equal(t, 422, enter("000000x", nil))
	instrument(t, d, c, p, &clock, runner, at, enter, send)
	soonOver(t, &clock, pair, enter, send)
}

// instrument: a phone that is paired sends angles, and the desk sees and ends it.
func instrument(t *testing.T, d *testkit.Desk, c *client, p api.Pairing, clock *time.Time, runner, at string,
	enter func(string, any) int, send func(string, ...float64) int) {
	var phoneIs api.Instrument
	enter(p.Code[:3]+" "+p.Code[3:], &phoneIs)
	assert.Equal(t, 422, enter(p.Code, nil), "good once")
	var seen api.Pairing
	for i := range 12 {
		assert.Equal(t, 200, send(phoneIs.Token, 35+0.1*float64(i%3)))
	}
	c.must("GET", at, nil, &seen)
	assert.Equal(t, "there", seen.State)
	assert.Empty(t, seen.Code)
	assert.True(t, seen.Steady)
	assert.InDelta(t, 35.1, seen.Keep, 0.11)
	*clock = clock.Add(3 * time.Second)
	c.must("GET", at, nil, &seen)
	assert.False(t, seen.Heard || seen.Steady, "an angle of three seconds ago is none")
	assert.Equal(t, 422, send(phoneIs.Token, 900))
	assert.Equal(t, 401, send("", 3))
	assert.Equal(t, 401, send(phoneIs.Token+"x", 3))
	o, err := d.Chart(ctx, d.Actor, runner)
	require.NoError(t, err)
	assert.Empty(t, o.Screens[0].Trials, "the coach's key enters it, nothing else")

	status, _ := c.do("DELETE", at, nil)
	assert.Less(t, status, 300)
	assert.Equal(t, 401, send(phoneIs.Token, 35), "the desk has ended it")
	status, text := c.do("GET", at, nil)
	assert.Equal(t, 404, status)
	assert.True(t, strings.Contains(text, "make another code"), text)

}

// soonOver: a code ends after two minutes or with the next one, a phone with two minutes of silence.
func soonOver(t *testing.T, clock *time.Time, pair func() api.Pairing, enter func(string, any) int, send func(string, ...float64) int) {
	var phoneIs api.Instrument
	late := pair()
	*clock = clock.Add(2 * time.Minute)
	assert.Equal(t, 422, enter(late.Code, nil), "two minutes are over")
	first := pair()
	second := pair()
	assert.Equal(t, 422, enter(first.Code, nil), "a screen has one phone at a time")
	enter(second.Code, &phoneIs)
	*clock = clock.Add(110 * time.Second)
	assert.Less(t, send(phoneIs.Token, 35), 300)
	*clock = clock.Add(2 * time.Minute)
	assert.Equal(t, 401, send(phoneIs.Token, 35), "nothing heard for two minutes")
}
