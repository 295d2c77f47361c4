package api_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/room"
	"notchback/internal/store"
)

// A broken rail is refused with the field it broke, so that the form shows it there; a change of a version
// somebody else replaced answers 409.
func TestTheLibraryOverHTTP(t *testing.T) {
	_, srv := server(t)
	c := signedIn(t, srv.URL, email)
	var lib room.Library
	c.must("GET", "/api/library", nil, &lib)
	rail := lib.Rails[0].Rail
	rail.Exercises[0].Doses = []string{"2 spots × 30 s", "1 spot × 30 s"}
	put := func(saw int) (int, string) {
		return c.do("PUT", "/api/library/"+rail.ID, map[string]any{"saw": saw, "rail": rail})
	}
	status, text := put(0)
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "exercises[0].doses")
	assert.Contains(t, text, "no harder than")
	rail.Exercises[0].Doses = []string{"2 spots × 30 s", "4 spots × 30 s"}
	status, text = put(0)
	require.Equal(t, 200, status, text)
	status, _ = put(0)
	assert.Equal(t, 409, status)
	status, text = c.do("DELETE", "/api/library/"+rail.ID+"?saw=1", nil)
	assert.Equal(t, 200, status, text)
	status, _ = c.do("PUT", "/api/library/NOT-an-id", map[string]any{"saw": 0, "rail": rail})
	assert.Equal(t, 422, status)
	status, _ = open(t, srv.URL).do("GET", "/api/library", nil)
	assert.Equal(t, 401, status, "only for who is signed in")
}

// A draft stores nothing; a move in the week is refused in words; every file says what it is; the runner's
// own link fetches the calendar and nothing of the coach's.
func TestTheProgrammeOverHTTP(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner, _, phone := ready(t, d, c)
	base := "/api/runners/" + runner
	var before, after room.WeekView
	c.must("GET", base+"/week", nil, &before)
	var v room.BuildView
	choices := build.Choices{Without: []string{"ankle_bend"}}.Normalise()
	c.must("POST", base+"/draft", map[string]any{"choices": choices}, &v)
	for _, r := range v.Draft.Rails {
		assert.False(t, r.Rail == "ankle_bend" && r.Chosen)
	}
	c.must("GET", base+"/week", nil, &after)
	assert.Equal(t, before.Week.Days, after.Week.Days)
	var rows []build.Difference
	c.must("POST", base+"/drafts/compared", map[string]any{"a": build.Choices{}.Normalise(), "b": choices}, &rows)
	assert.NotEmpty(t, rows)
	var offered []catalog.Notch
	c.must("GET", base+"/notches/calf_straight?phase=build", nil, &offered)
	pin := offered[len(offered)/2]
	choices.Notches = []build.PinnedNotch{{Rail: "calf_straight", Side: body.Left, Exercise: pin.Exercise, Dose: pin.Dose}}
	c.must("POST", base+"/draft", map[string]any{"choices": choices}, &v)
	assert.Equal(t, pin.ID, v.Draft.Choices.Notches[0].ID, "a draft says which of the notches offered is set by hand")
	choices.Also = []string{"no_such"}
	status, text := c.do("POST", base+"/draft", map[string]any{"choices": choices})
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "there is no rail")
	from := -1
	for i, day := range before.Week.Days {
		for _, e := range day.Entries {
			if e.Rail == "ankle_bend" {
				from = i
			}
		}
	}
	status, text = c.do("PUT", base+"/weeks/"+store.NewID(), map[string]any{"saw": "", "rail": "ankle_bend", "from": from, "to": from,
		"slot": "before"})
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "has no run")
	for path, kind := range map[string]string{"/hand-out.pdf": "application/pdf", "/hand-out.pdf?paper=Letter&days=14": "application/pdf",
		"/calendar.ics": "text/calendar; charset=utf-8", "/doses.csv": "text/csv; charset=utf-8"} {
		res, err := c.http.Get(srv.URL + base + path)
		require.NoError(t, err)
		assert.Equal(t, 200, res.StatusCode, path)
		assert.Equal(t, kind, res.Header.Get("Content-Type"), path)
		assert.Contains(t, res.Header.Get("Content-Disposition"), "attachment", path)
		require.NoError(t, res.Body.Close())
	}
	status, _ = c.do("GET", base+"/hand-out.pdf?paper=A3", nil)
	assert.Equal(t, 422, status)
	status, _ = c.do("GET", base+"/hand-out?from=soon", nil)
	assert.Equal(t, 422, status)
	status, text = phone.do("GET", "/api/phone/calendar.ics", nil)
	assert.Equal(t, 200, status)
	assert.Contains(t, text, "BEGIN:VEVENT")
	status, _ = phone.do("GET", base+"/doses.csv", nil)
	assert.Equal(t, 401, status)
}
