package formats

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"strings"
	"testing"
	"time"

	ical "github.com/emersion/go-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
)

var now = time.Date(2026, 3, 2, 9, 30, 0, 0, time.UTC)

func plan() []Planned {
	return []Planned{
		{On: "2026-03-02", Title: "Foot strength, 14 min", Kind: "session",
			Lines: []string{"Evening:", "- One-leg raises, floor: 2 × 8; slow, and “tall”, each side of a long line that has to be " +
				"folded somewhere"}},
		{On: "2026-03-04", Title: "Foot strength", Kind: "session", Gone: true},
		{On: "2026-03-30", Title: "Retest: ankle, big toe", Kind: "retest"},
		{On: "2026-03-30", Title: "Count the cadence", Kind: "retest"},
	}
}

// The file is read with another library than the one that writes it (RFC 5545).
func TestTheCalendarIsReadByAnotherParser(t *testing.T) {
	data := Calendar("runner", "Ines; Tarrow, jr.", plan(), body.Units{}, now)
	assert.Equal(t, bytes.Count(data, []byte("\n")), bytes.Count(data, []byte("\r\n")), "lines end with CRLF")
	for _, line := range strings.Split(string(data), "\r\n") {
		assert.LessOrEqual(t, len(line), 75, "a line is folded at 75 octets: %s", line)
	}
	c, err := ical.NewDecoder(bytes.NewReader(data)).Decode()
	require.NoError(t, err)
	method, _ := c.Props.Text(ical.PropMethod)
	assert.Equal(t, "PUBLISH", method)
	events := c.Events()
	require.Len(t, events, 4)
	uids := map[string]bool{}
	for i, e := range events {
		for _, p := range []string{ical.PropUID, ical.PropDateTimeStamp, ical.PropSequence} {
			assert.NotNil(t, e.Props.Get(p), "%s is required", p)
		}
		uid, _ := e.Props.Text(ical.PropUID)
		assert.False(t, uids[uid], "%s stands twice", uid)
		uids[uid] = true
		start, err := e.DateTimeStart(time.UTC)
		require.NoError(t, err)
		assert.Equal(t, string(plan()[i].On), start.Format(time.DateOnly))
		end, err := e.DateTimeEnd(time.UTC)
		require.NoError(t, err)
		assert.Equal(t, 24*time.Hour, end.Sub(start), "one whole day")
		summary, _ := e.Props.Text(ical.PropSummary)
		assert.Equal(t, plan()[i].Title, summary)
	}
	words, _ := events[0].Props.Text(ical.PropDescription)
	assert.Equal(t, strings.Join(plan()[0].Lines, "\n"), words)
	status, _ := events[1].Props.Text(ical.PropStatus)
	assert.Equal(t, "CANCELLED", status, "a day taken away leaves the calendar")
}

// Written again later, the same day keeps its id and counts up, so that calendars update it.
func TestTheCalendarUpdatesByTheSameIds(t *testing.T) {
	read := func(at time.Time) (ids []string, seq int) {
		c, err := ical.NewDecoder(bytes.NewReader(Calendar("runner", "Ines", plan(), body.Units{}, at))).Decode()
		require.NoError(t, err)
		for _, e := range c.Events() {
			uid, _ := e.Props.Text(ical.PropUID)
			ids = append(ids, uid)
			seq, err = e.Props.Get(ical.PropSequence).Int()
			require.NoError(t, err)
		}
		return ids, seq
	}
	first, a := read(now)
	again, b := read(now.Add(time.Hour))
	assert.Equal(t, first, again)
	assert.Greater(t, b, a)
	other, err := ical.NewDecoder(bytes.NewReader(Calendar("another", "Ines", plan(), body.Units{}, now))).Decode()
	require.NoError(t, err)
	uid, _ := other.Events()[0].Props.Text(ical.PropUID)
	assert.NotContains(t, first, uid, "two runners' days do not overwrite each other")
}

func TestCSVIsReadBackAndHoldsNoFormula(t *testing.T) {
	rows := [][]string{{"exercise", "dose"}, {"Toes on the wall, knee bent", "1 × 30 s"}, {"=HYPERLINK(\"x\")", "-2"},
		{"line\nbreak", `a "quote"`}}
	data, err := CSV(rows)
	require.NoError(t, err)
	require.True(t, bytes.HasPrefix(data, []byte("\xef\xbb\xbf")))
	back, err := csv.NewReader(bytes.NewReader(data[3:])).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, rows[1], back[1])
	assert.Equal(t, []string{"'=HYPERLINK(\"x\")", "'-2"}, back[2])
	assert.Equal(t, rows[3], back[3])
}

func FuzzCSV(f *testing.F) {
	f.Add("a,b", "=1")
	f.Fuzz(func(t *testing.T, a, b string) {
		a, b = strings.ReplaceAll(a, "\r", ""), strings.ReplaceAll(b, "\r", "")
		data, err := CSV([][]string{{"x", a, b}})
		require.NoError(t, err)
		back, err := csv.NewReader(bytes.NewReader(data[3:])).ReadAll()
		require.NoError(t, err)
		for i, want := range []string{"x", a, b} {
			require.True(t, back[0][i] == want || back[0][i] == "'"+want, "%q came back as %q", want, back[0][i])
		}
	})
}

func handout(days, exercises int) Handout {
	h := Handout{Runner: "Åse Tarrow", From: "2026-03-02", Until: body.Date("2026-03-02").Add(days - 1),
		Cautions: []string{"Stop for sharp or rising pain."}, Advice: []string{"Toes long."}}
	for i := range days {
		h.Days = append(h.Days, HandoutDay{On: body.Date("2026-03-02").Add(i), Run: "easy run, 40 min",
			Slots: []HandoutSlot{{Slot: catalog.Evening, Words: "evening", Minutes: 12,
				Lines: []HandoutLine{{Exercise: "x", Name: "One-leg raises → step", Doses: []string{"left (2 + 1) × 8", "right 2 × 8"},
					Short: true}}}}})
	}
	calf, _ := catalog.Shipped.Find("calf_straight")
	for i := range exercises {
		x := calf.Exercises[i%len(calf.Exercises)]
		d, _ := x.Drawing()
		h.Exercises = append(h.Exercises, HandoutSheet{Exercise: x, Rail: calf.Name, Kit: []string{"step"}, Drawing: d,
			Cautions: calf.Cautions})
	}
	return h
}

// The sheet is the paper's size, in points: A4 is 595 × 842, Letter 612 × 792 (ISO 216; ANSI Y14.1).
func TestThePDFIsOnItsPaper(t *testing.T) {
	for paper, box := range map[Paper]string{A4: "/MediaBox [0 0 595.28 841.89]", Letter: "/MediaBox [0 0 612.00 792.00]"} {
		data, err := PDF(handout(7, 6), paper, body.Units{})
		require.NoError(t, err)
		assert.True(t, bytes.HasPrefix(data, []byte("%PDF-")))
		assert.Contains(t, string(data), box)
	}
}

func TestALongerHandoutTakesMorePages(t *testing.T) {
	pages := func(h Handout) int {
		data, err := PDF(h, A4, body.Units{})
		require.NoError(t, err)
		var n int
		i := bytes.Index(data, []byte("/Count "))
		require.Positive(t, i)
		_, err = fmt.Sscanf(string(data[i:]), "/Count %d", &n)
		require.NoError(t, err)
		return n
	}
	assert.Equal(t, 1, pages(handout(3, 0)))
	assert.Equal(t, 2, pages(handout(7, 2)))
	assert.Greater(t, pages(handout(28, 20)), 5)
}
