package api_test

import (
	"encoding/json"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/api"
	"notchback/internal/core/build"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

func TestPrivateLink(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner, link, phone := ready(t, d, c)
	phone.must("GET", "/api/phone", nil, nil)
	status, _ := phone.do("GET", "/api/runners", nil)
	assert.Equal(t, 401, status, "a link opens nothing of the coach's")

	token := strings.TrimPrefix(phone.head.Get("Authorization"), "Bearer ")
	var dump string
	require.NoError(t, testkit.Admin(t, testkit.LastDatabase()).QueryRow(ctx, `SELECT string_agg(l::text, ' ') FROM links l`).Scan(&dump))
	assert.NotContains(t, dump, token, "the token is not stored")

	c.must("DELETE", "/api/runners/"+runner+"/links/"+link, nil, nil)
	status, body := phone.do("GET", "/api/phone", nil)
	assert.Equal(t, 401, status)
	assert.Contains(t, body, "This link has ended")

	_, _, second := ready(t, d, c)
	_, err := testkit.Admin(t, testkit.LastDatabase()).Exec(ctx, `UPDATE links SET expires_at = now() - interval '1 minute'`)
	require.NoError(t, err)
	status, _ = second.do("GET", "/api/phone", nil)
	assert.Equal(t, 401, status, "an expired link")
}

func TestANewLinkEndsTheOldAndTheArchiveEndsAll(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner, _, phone := ready(t, d, c)
	var l api.NewLink
	c.must("PUT", "/api/runners/"+runner+"/links/"+store.NewID(), nil, &l)
	status, _ := phone.do("GET", "/api/phone", nil)
	assert.Equal(t, 401, status)
	phone.head.Set("Authorization", "Bearer "+l.URL[strings.Index(l.URL, "#")+1:])
	phone.must("GET", "/api/phone", nil, nil)
	c.must("POST", "/api/runners/"+runner+"/archive", map[string]bool{"archived": true}, nil)
	status, _ = phone.do("GET", "/api/phone", nil)
	assert.Equal(t, 401, status)
}

func TestAWarningSignFromThePhoneLocksAtOnce(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner, _, phone := ready(t, d, c)
	today := d.Now().UTC().Format(time.DateOnly)
	id := store.NewID()
	for range 2 { // repeated: the same write
		phone.must("PUT", "/api/phone/signs/"+id, map[string]any{"sign": "swelling", "region": "calf", "side": "left", "on": today}, nil)
	}
	var v struct {
		Locks    []struct{ Question string }
		Running  string
		Sessions []struct {
			Items []struct {
				Rail     string
				Exercise struct {
					Name  string
					Level int
				}
				Sides []struct{ Side string }
			}
		}
	}
	phone.must("GET", "/api/phone", nil, &v)
	require.Len(t, v.Locks, 1)
	for _, s := range v.Sessions {
		for _, i := range s.Items {
			for _, side := range i.Sides {
				assert.False(t, i.Rail == "calf_straight" && side.Side != "right", "the locked side is gone from the session")
			}
		}
	}
	var queue []struct{ Kind, Sentence string }
	c.must("GET", "/api/today", nil, &queue)
	assert.Equal(t, "stop", queue[0].Kind)
	assert.Contains(t, queue[0].Sentence, "left calf")
	status, text := c.do("PUT", "/api/runners/"+runner+"/stops/"+id+"/clearances/"+store.NewID(),
		map[string]any{"kind": "clinician", "who": "", "on": today, "limits": "none"})
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "write who cleared the runner")
	c.must("PUT", "/api/runners/"+runner+"/stops/"+id+"/clearances/"+store.NewID(),
		map[string]any{"kind": "clinician", "who": "Physio", "on": today, "limits": "two legs only for now", "opens": map[string]any{"level": 2}},
		nil)
	phone.must("GET", "/api/phone", nil, &v)
	assert.Empty(t, v.Locks)
	assert.NotEmpty(t, v.Running, "running was not opened")
	for _, s := range v.Sessions {
		for _, i := range s.Items {
			for _, side := range i.Sides {
				assert.False(t, i.Exercise.Level > 2 && side.Side != "right", "%s is above what was opened", i.Exercise.Name)
			}
		}
	}
}

func TestARepeatedLogIsWrittenOnce(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner, _, phone := ready(t, d, c)
	o, err := d.Chart(ctx, d.Actor, runner)
	require.NoError(t, err)
	id := store.NewID()
	body := map[string]any{"prescription": o.Prescriptions[0].ID, "on": o.Today, "done": []int{8, 8}, "rpe": 7, "pain": 0}
	for range 3 {
		phone.must("PUT", "/api/phone/logs/"+id, body, nil)
	}
	o, _ = d.Chart(ctx, d.Actor, runner)
	require.Len(t, o.Logs, 1)
	assert.Equal(t, o.Prescriptions[0].Text(), o.Logs[0].Prescription.Text(), "the log stores what was shown")
	_, _, other := ready(t, d, c)
	status, _ := other.do("PUT", "/api/phone/logs/"+id, body)
	assert.Equal(t, 404, status, "another runner's prescription")
}

// entry is one thing a phone holds unsent.
type entry struct {
	Kind string
	Body map[string]any
}

// heldBy reads what a phone of some release holds, of this runner's calf row and of today.
func heldBy(t *testing.T, d *testkit.Desk, runner, sample string) (held []entry) {
	t.Helper()
	text, err := os.ReadFile("testdata/" + sample)
	require.NoError(t, err)
	o, err := d.Chart(ctx, d.Actor, runner)
	require.NoError(t, err)
	words := strings.ReplaceAll(string(text), "TODAY", string(o.Today))
	for _, l := range o.Prescriptions {
		if l.Rail == "calf_straight" {
			words = strings.ReplaceAll(words, "PRESCRIPTION", l.ID)
		}
	}
	require.NoError(t, json.Unmarshal([]byte(words), &held))
	return held
}

// Whatever a phone of the release before may still hold is taken, and each sign of it locks: nothing a
// runner reported without signal is lost because the server was renewed.
func TestWhatAPhoneOfTheReleaseBeforeHolds(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner, _, phone := ready(t, d, c)
	held := heldBy(t, d, runner, "phone-2026.11.4.json")
	signs := 0
	for _, e := range held {
		status, answer := phone.do("PUT", "/api/phone/"+e.Kind+"/"+store.NewID(), e.Body)
		require.Less(t, status, 300, "%s %v: %s", e.Kind, e.Body, answer)
		if e.Kind != "signs" {
			continue
		}
		signs++
		o, err := d.Chart(ctx, d.Actor, runner)
		require.NoError(t, err)
		require.Len(t, o.Stops, signs)
		s := o.Stops[signs-1]
		assert.True(t, s.Open(), "%s", s.Sign)
		if len(e.Body["which"].([]any)) == 0 {
			assert.EqualValues(t, e.Body["region"], s.Region, "%s keeps its place", s.Sign)
		}
		assert.NotEmpty(t, s.Locks(), "%s", s.Sign)
	}
	o, err := d.Chart(ctx, d.Actor, runner)
	require.NoError(t, err)
	assert.Len(t, o.Runs, 2)
	assert.Len(t, o.Mornings, 3, "the whole heel is its sole and its back")
	assert.Len(t, o.Logs, 2)
}

// The sessions that a phone of this release may hold say what was shown, and are kept with it.
func TestWhatAPhoneOfThisReleaseHolds(t *testing.T) {
	d, srv := server(t)
	runner, _, phone := ready(t, d, signedIn(t, srv.URL, email))
	held := heldBy(t, d, runner, "phone-2026.11.9.json")
	for _, e := range held {
		status, answer := phone.do("PUT", "/api/phone/"+e.Kind+"/"+store.NewID(), e.Body)
		require.Less(t, status, 300, answer)
	}
	o, err := d.Chart(ctx, d.Actor, runner)
	require.NoError(t, err)
	doses := []string{}
	for _, l := range o.Logs {
		doses = append(doses, l.Prescription.Dose.String())
	}
	assert.Equal(t, []string{"2 × 4", "1 × 4"}, doses)
}

// A page is sent again only when the record is another; what the phone goes by without signal belongs to the page.
func TestAPhoneIsSentWhatIsNewAlone(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner, _, phone := ready(t, d, c)
	require.NoError(t, d.Build(ctx, d.Actor, runner, store.NewID(), build.Choices{}))
	var page room.Phone
	phone.must("GET", "/api/phone", nil, &page)
	phone.head.Set("If-None-Match", `"`+page.State+`"`)
	for _, path := range []string{"/api/phone", "/api/phone/offline"} {
		status, body := phone.do("GET", path, nil)
		assert.Equal(t, 304, status, path)
		assert.Empty(t, body)
	}
	phone.must("PUT", "/api/phone/mornings/"+store.NewID(),
		map[string]any{"on": page.Today, "region": "heel_sole", "side": "left", "pain": 1}, nil)
	var after room.Phone
	phone.must("GET", "/api/phone", nil, &after)
	assert.NotEqual(t, page.State, after.State)
	assert.True(t, after.MorningIn)
	var offline room.Offline
	phone.must("GET", "/api/phone/offline", nil, &offline)
	assert.Equal(t, after.State, offline.State)
	assert.Equal(t, runner, offline.Runner)
	sides := 0
	for _, s := range after.Sessions[:2] {
		for _, it := range s.Items {
			for _, side := range it.Sides {
				sides++
				of, known := offline.Days[s.On][side.Prescriptions[0]]
				assert.True(t, known, "%s, %s", it.Exercise.ID, side.Side)
				for _, v := range of.Instead {
					for _, does := range v.Does {
						assert.Contains(t, offline.Kinds, does.Kind)
					}
				}
			}
		}
	}
	assert.Positive(t, sides)
}

// openOn opens a link on a device of its own, and returns it with its id.
func openOn(t *testing.T, url string, by map[string]any) (phone *client, device string) {
	phone, device = open(t, url), store.NewID()
	phone.must("PUT", "/api/phone/devices/"+device, by, nil)
	return phone, device
}

// A link is open on as many devices as it is opened on, each by a cookie of its own; each ends by itself.
func TestALinkIsOpenOnSeveralDevices(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner, link, old := ready(t, d, c)
	token := strings.TrimPrefix(old.head.Get("Authorization"), "Bearer ")
	first, device := openOn(t, srv.URL, map[string]any{"token": token})
	second, other := openOn(t, srv.URL, map[string]any{"token": token})
	for _, phone := range []*client{first, second, old} {
		phone.must("GET", "/api/phone", nil, nil)
	}
	var v room.RunnerView
	c.must("GET", "/api/runners/"+runner, nil, &v)
	listed := []string{}
	for _, x := range v.Links[0].Devices {
		listed = append(listed, x.ID)
	}
	assert.ElementsMatch(t, []string{device, other}, listed)

	first.must("PUT", "/api/phone/devices/"+device, map[string]any{"token": token}, nil) // the answer was lost, and it asks again
	first.must("GET", "/api/phone", nil, nil)
	c.must("GET", "/api/runners/"+runner, nil, &v)
	assert.Len(t, v.Links[0].Devices, 2)

	c.must("DELETE", "/api/runners/"+runner+"/devices/"+device, nil, nil)
	c.must("DELETE", "/api/runners/"+runner+"/devices/"+device, nil, nil)
	status, said := first.do("GET", "/api/phone", nil)
	assert.Equal(t, 401, status)
	assert.Contains(t, said, "has ended here")
	second.must("GET", "/api/phone", nil, nil)
	status, _ = first.do("PUT", "/api/phone/devices/"+device, map[string]any{"token": token})
	assert.Equal(t, 409, status, "a device that was ended is opened as another")

	var seen time.Time
	admin := testkit.Admin(t, testkit.LastDatabase())
	lastUse := func() time.Time {
		require.NoError(t, admin.QueryRow(ctx, `SELECT seen_at FROM link_devices WHERE id = $1`, other).Scan(&seen))
		return seen
	}
	was := lastUse()
	second.must("GET", "/api/phone", nil, nil)
	assert.Equal(t, was, lastUse(), "written at most once an hour")
	_, err := admin.Exec(ctx, `UPDATE link_devices SET seen_at = now() - interval '61 minutes'`)
	require.NoError(t, err)
	second.must("GET", "/api/phone", nil, nil)
	assert.WithinDuration(t, was, lastUse(), time.Minute)
	for _, sql := range []string{`UPDATE link_devices SET seen_at = now() - interval '61 minutes'`,
		`REVOKE UPDATE (seen_at) ON link_devices FROM notchback_app`} {
		_, err = admin.Exec(ctx, sql)
		require.NoError(t, err)
	}
	second.must("GET", "/api/phone", nil, nil) // that its last use cannot be written turns nobody away

	c.must("DELETE", "/api/runners/"+runner+"/links/"+link, nil, nil)
	status, _ = second.do("GET", "/api/phone", nil)
	assert.Equal(t, 401, status, "all of them end with the link")
}

// A short code opens one device, once, within ten minutes; guessing it is counted.
func TestAShortCodeOpensOneMoreDevice(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner, link, old := ready(t, d, c)
	var code api.ShortCode
	made := func(by *client, path string) string {
		by.must("POST", path, nil, &code)
		assert.Regexp(t, `^[A-Z2-7]{4}-[A-Z2-7]{4}$`, code.Code)
		return code.Code
	}
	earlier := made(old, "/api/phone/codes")
	phone, device := openOn(t, srv.URL, map[string]any{"code": strings.ToLower(made(old, "/api/phone/codes"))})
	phone.must("PUT", "/api/phone/devices/"+device, map[string]any{"code": code.Code}, nil)
	phone.must("GET", "/api/phone", nil, nil)
	wrong := open(t, srv.URL)
	says := func(code, what string) {
		status, said := wrong.do("PUT", "/api/phone/devices/"+store.NewID(), map[string]any{"code": code})
		assert.Equal(t, 422, status, what)
		assert.Contains(t, said, "does not fit")
	}
	says(code.Code, "it was used")
	says(earlier, "another was made since")
	made(c, "/api/runners/"+runner+"/links/"+link+"/codes")
	_, err := testkit.Admin(t, testkit.LastDatabase()).Exec(ctx, `UPDATE link_codes SET expires_at = now() - interval '1 second'`)
	require.NoError(t, err)
	says(code.Code, "it is too old")
	for range 17 {
		says("AAAA-AAAA", "guessed")
	}
	status, said := wrong.do("PUT", "/api/phone/devices/"+store.NewID(), map[string]any{"code": "AAAA-AAAA"})
	assert.Equal(t, 429, status, said)
	phone.must("GET", "/api/phone", nil, nil)
}

// One phone may hold the links of two runners: it says which one it means.
func TestOnePhoneOfTwoRunners(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	phone := open(t, srv.URL)
	links := []string{}
	for range 2 {
		_, link, old := ready(t, d, c)
		phone.must("PUT", "/api/phone/devices/"+store.NewID(), map[string]any{"token": old.head.Get("Authorization")[len("Bearer "):]}, nil)
		links = append(links, link)
	}
	var v room.Phone
	runners := map[string]bool{}
	for _, link := range links {
		phone.head.Set("Notchback-Link", link)
		phone.must("GET", "/api/phone", nil, &v)
		assert.Equal(t, link, v.Link)
		runners[v.Runner] = true
	}
	assert.Len(t, runners, 2)
	phone.head.Del("Notchback-Link")
	status, _ := phone.do("GET", "/api/phone", nil)
	assert.Equal(t, 401, status)
}

// Twenty devices at most: what was not used for the longest time goes, never what was just opened.
func TestALinkIsOpenOnTwentyDevicesAtMost(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	_, _, old := ready(t, d, c)
	token := strings.TrimPrefix(old.head.Get("Authorization"), "Bearer ")
	first, _ := openOn(t, srv.URL, map[string]any{"token": token})
	_, err := testkit.Admin(t, testkit.LastDatabase()).Exec(ctx, `UPDATE link_devices SET seen_at = now() - interval '1 day'`)
	require.NoError(t, err)
	last := first
	for range 20 {
		last, _ = openOn(t, srv.URL, map[string]any{"token": token})
	}
	status, _ := first.do("GET", "/api/phone", nil)
	assert.Equal(t, 401, status)
	last.must("GET", "/api/phone", nil, nil)
}
