package api_test

import (
	"bytes"
	"encoding/base64"
	"image"
	"image/jpeg"
	"io"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/gait"
	"notchback/internal/core/screen"
	"notchback/internal/room"
	"notchback/internal/standin"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// kept finds the trials of a clip in the open screen.
func kept(v room.Screening, clip string) map[string]screen.Trial {
	out := map[string]screen.Trial{}
	for _, t := range v.Current.Trials {
		if t.Clip == clip {
			out[t.Measure+" "+string(t.Side)] = t
		}
	}
	return out
}

func TestAClipIsKeptWithTheScreen(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner := d.Runner(t, testkit.Profile())
	base := "/api/runners/" + runner
	var shown room.Gait
	c.must("GET", base+"/gait", nil, &shown)
	assert.Empty(t, shown.Current)
	assert.Contains(t, shown.Cadence.Reason.Says, "no cadence yet")
	scr := d.Begin(t, runner)

	film, _ := standin.Find("heel-240")
	marked := film.Marked()
	var read gait.Reading
	c.must("POST", base+"/gait/read", marked, &read)
	require.NotEmpty(t, read.Figures)

	first := store.NewID()
	for range 2 { // sent twice, kept once
		c.must("PUT", base+"/screens/"+scr+"/clips/"+first, map[string]any{"clip": marked}, &shown)
	}
	require.Len(t, shown.Clips, 1)
	shot, err := shown.Clips[0].Shot.Read()
	require.NoError(t, err)
	assert.Equal(t, gait.Shot{Name: marked.Name, View: marked.View, CaptureFps: marked.CaptureFps, Frames: marked.Frames,
		Marks: len(marked.Marks), Stills: shot.Stills, Context: marked.Context}, shot)
	require.Len(t, shot.Stills, len(marked.Stills))
	for i, s := range marked.Stills {
		assert.Equal(t, gait.Frame{ID: s.ID, Frame: s.Frame, Side: s.Side, At: s.At}, shot.Stills[i])
	}
	var clip gait.Clip
	c.must("GET", base+"/clips/"+first, nil, &clip)
	require.NoError(t, err)
	figures, err := shown.Clips[0].Figures.Read()
	require.NoError(t, err)
	assert.Equal(t, marked.Marks, clip.Marks)
	assert.Equal(t, len(read.Figures), len(figures))
	assert.Equal(t, scr, shown.Current)
	var v room.Screening
	c.must("GET", base+"/screens", nil, &v)
	trials := kept(v, first)
	assert.Len(t, trials, len(read.Takes))
	cadence := trials["gait.cadence both"]
	assert.InDelta(t, film.Cadence, cadence.Value, 1)
	assert.Positive(t, cadence.SE)
	assert.Equal(t, "easy, shoes", cadence.Key())
	assert.Equal(t, 10., cadence.Context.SpeedKmh)
	strike := trials["gait.strike_angle left"]
	for _, f := range v.Findings {
		if f.Measure == "gait.strike_angle" && f.Side == body.Left {
			assert.InDelta(t, 1.96*strike.SE, f.Half, 1e-9, "the finding takes the clip's own error")
			assert.Equal(t, "rearfoot", f.Word)
		}
	}
	assert.Greater(t, shown.Cadence.Target, shown.Cadence.Own)
	assert.NotEmpty(t, shown.Cadence.Steps)

	replacedAndTakenOut(t, c, base, scr, first, marked)
}

// replacedAndTakenOut: marked again, a clip takes the first one's place; taken out it is put back.
func replacedAndTakenOut(t *testing.T, c *client, base, scr, first string, marked gait.Clip) {
	var shown room.Gait
	var v room.Screening
	// Marked again, it takes the first one's place, and so do its figures.
	second, fewer := store.NewID(), marked
	fewer.Stills = []gait.Still{}
	c.must("PUT", base+"/screens/"+scr+"/clips/"+second, map[string]any{"clip": fewer, "replaces": first}, &shown)
	require.Len(t, shown.Clips, 1)
	assert.Equal(t, second, shown.Clips[0].ID)
	c.must("GET", base+"/screens", nil, &v)
	assert.Empty(t, kept(v, first))
	assert.NotContains(t, kept(v, second), "gait.strike_angle left")
	assert.Contains(t, kept(v, second), "gait.cadence both")

	// Another day's record is not replaced from here.
	status, text := c.do("PUT", base+"/screens/"+scr+"/clips/"+store.NewID(), map[string]any{"clip": marked, "replaces": store.NewID()})
	assert.Equal(t, 404, status, text)

	// Taken out and put back.
	c.must("DELETE", base+"/clips/"+second, nil, &shown)
	assert.Empty(t, shown.Clips)
	c.must("GET", base+"/screens", nil, &v)
	assert.Empty(t, kept(v, second))
	c.must("POST", base+"/clips/"+second+"/restore", nil, &shown)
	assert.Len(t, shown.Clips, 1)
	c.must("GET", base+"/screens", nil, &v)
	assert.NotEmpty(t, kept(v, second))
}

func TestAClipIsRefusedWithWhatToDo(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner := d.Runner(t, testkit.Profile())
	base := "/api/runners/" + runner
	scr := d.Begin(t, runner)
	film, _ := standin.Find("heel-120")
	for _, x := range []struct {
		spoil func(*gait.Clip)
		says  string
	}{
		{func(m *gait.Clip) { m.CaptureFps = 0 }, "how many frames a second it was shot"},
		{func(m *gait.Clip) { m.Marks = append(m.Marks[:0:0], m.Marks[1], m.Marks[1]) }, "two marks on frame"},
		{func(m *gait.Clip) { m.Marks[1].Frame = m.Marks[0].Frame - 2 }, "are the two swapped"},
		{func(m *gait.Clip) { m.Marks, m.Stills = []gait.Event{}, []gait.Still{} }, "nothing is marked yet"},
		{func(m *gait.Clip) { m.Context.Pace = "" }, "pace"},
	} {
		m := film.Marked()
		x.spoil(&m)
		status, text := c.do("PUT", base+"/screens/"+scr+"/clips/"+store.NewID(), map[string]any{"clip": m})
		assert.Equal(t, 422, status, text)
		assert.Contains(t, text, x.says)
	}
	var shown room.Gait
	c.must("GET", base+"/gait", nil, &shown)
	assert.Empty(t, shown.Clips, "nothing was half kept")

	// A warning sign where running loads: no figure of a clip enters.
	c.must("PUT", base+"/stops/"+store.NewID(), map[string]any{"sign": "bone", "side": "left", "region": "shin", "which": []string{}}, nil)
	status, text := c.do("PUT", base+"/screens/"+scr+"/clips/"+store.NewID(), map[string]any{"clip": film.Marked()})
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "a warning sign is open")
}

func TestClipsAreComparedAndMarksProposed(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	base := "/api/runners/" + d.Runner(t, testkit.Profile())
	heel, _ := standin.Find("heel-240")
	fore, _ := standin.Find("fore-240")
	uneven, _ := standin.Find("uneven-240")
	var out []gait.Difference
	word := func(id string) string {
		for _, x := range out {
			if x.ID == id && x.Side != body.Right {
				return x.Word
			}
		}
		return "not compared"
	}
	c.must("POST", base+"/gait/compare", map[string]any{"first": heel.Marked(), "second": fore.Marked(), "across": false}, &out)
	assert.Equal(t, "more", word("cadence"))
	assert.Equal(t, "less", word("strike"))
	assert.Equal(t, "less", word("overstride"))
	assert.Equal(t, "no difference seen", word("trunk"))
	c.must("POST", base+"/gait/compare", map[string]any{"first": uneven.Marked(), "second": uneven.Marked(), "across": true}, &out)
	assert.Equal(t, "more", word("contact"), "the right foot stays down longer")
	assert.Equal(t, "less", word("strike"))
	assert.Equal(t, "not compared", word("cadence"))

	tracks := []gait.Track{}
	for _, side := range body.Sides {
		for _, spot := range []string{"heel", "toe"} {
			tr := gait.Track{Side: side, Spot: spot}
			for n := range heel.Frames() {
				p := heel.Points(side, n)[spot]
				tr.Frames, tr.X, tr.Y = append(tr.Frames, n), append(tr.X, p.X), append(tr.Y, p.Y)
			}
			tracks = append(tracks, tr)
		}
	}
	blank := heel.Marked()
	blank.Marks, blank.Stills = []gait.Event{}, []gait.Still{}
	var proposed []gait.Proposal
	c.must("POST", base+"/gait/propose", map[string]any{"clip": blank, "tracks": tracks}, &proposed)
	hits, all := standin.Near(heel.Marked().Marks, proposed)
	assert.Equal(t, all, hits)
	status, text := c.do("POST", base+"/gait/propose", map[string]any{"clip": blank, "tracks": []any{}})
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "mark the tape on heel and toe")
}

func TestStillsAndFilms(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	base := "/api/runners/" + d.Runner(t, testkit.Profile())
	var picture bytes.Buffer
	require.NoError(t, jpeg.Encode(&picture, image.NewGray(image.Rect(0, 0, 8, 8)), nil))
	id := store.NewID()
	body64 := map[string]any{"picture": base64.StdEncoding.EncodeToString(picture.Bytes())}
	for range 2 {
		c.must("PUT", base+"/stills/"+id, body64, nil)
	}
	status, text := c.do("GET", base+"/stills/"+id, nil)
	assert.Equal(t, 200, status)
	assert.Equal(t, picture.String(), text)
	status, text = c.do("PUT", base+"/stills/"+store.NewID(),
		map[string]any{"picture": base64.StdEncoding.EncodeToString([]byte("<svg onload=…>"))})
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "JPEG")
	status, text = c.do("PUT", base+"/stills/"+store.NewID(), map[string]any{"picture": base64.StdEncoding.EncodeToString(append([]byte{0xff,
		0xd8, 0xff}, make([]byte, 182<<10)...))})
	assert.Equal(t, 422, status, text[:min(200, len(text))])
	for range 2 {
		c.must("DELETE", base+"/stills/"+id, nil, nil)
	}
	status, _ = c.do("GET", base+"/stills/"+id, nil)
	assert.Equal(t, 404, status)

	// Players ask for parts of a film.
	req, err := http.NewRequest("GET", srv.URL+"/films/heel-30", nil)
	require.NoError(t, err)
	req.Header.Set("Range", "bytes=0-99")
	a, err := http.DefaultClient.Do(req)
	require.NoError(t, err)
	defer a.Body.Close()
	part, err := io.ReadAll(a.Body)
	require.NoError(t, err)
	assert.Equal(t, 206, a.StatusCode)
	assert.Len(t, part, 100)
	assert.Equal(t, "video/mp4", a.Header.Get("Content-Type"))
	assert.Contains(t, a.Header.Get("Content-Security-Policy"), "media-src 'self' blob:")
	b, err := http.Get(srv.URL + "/films/..%2fsecret")
	require.NoError(t, err)
	b.Body.Close()
	assert.Equal(t, 404, b.StatusCode)
	var films []map[string]any
	c.must("GET", "/api/films", nil, &films)
	assert.Len(t, films, len(standin.Films))
	assert.True(t, strings.HasPrefix(films[0]["name"].(string), "heel"))
}

func TestAQuickTestTakesNoClips(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner := d.Runner(t, testkit.Profile())
	d.AskSigns(t, runner)
	id := store.NewID()
	c.must("PUT", "/api/runners/"+runner+"/screens/"+id, map[string]any{"kind": "session"}, nil)
	film, _ := standin.Find("mid-120")
	status, text := c.do("PUT", "/api/runners/"+runner+"/screens/"+id+"/clips/"+store.NewID(), map[string]any{"clip": film.Marked()})
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "start a gait screen")
}

func TestAGaitScreenIsNoFirstVisit(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner := d.Runner(t, testkit.Profile())
	d.AskSigns(t, runner)
	id := store.NewID()
	var v room.Screening
	c.must("PUT", "/api/runners/"+runner+"/screens/"+id, map[string]any{"kind": "gait"}, &v)
	assert.Contains(t, v.Current.Measures, "gait.cadence")
	assert.NotContains(t, v.Current.Measures, "ankle.knee_to_wall")
	film, _ := standin.Find("mid-120")
	c.must("PUT", "/api/runners/"+runner+"/screens/"+id+"/clips/"+store.NewID(), map[string]any{"clip": film.Marked()}, nil)
	c.must("POST", "/api/runners/"+runner+"/screens/"+id+"/finish", nil, &v)
	assert.Positive(t, v.Ceiling, "heel raises still stop at the ceiling of a first visit")
}
