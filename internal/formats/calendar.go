package formats

import (
	"bytes"
	"fmt"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"

	"notchback/internal/core/body"
)

// Calendar writes the planned days as iCalendar (RFC 5545): all-day events that take no time of the
// day. Each day and kind of a runner keeps its UID for ever, and the sequence grows with the moment it
// is written, so that a file imported again updates what is there; days taken away are cancelled.
func Calendar(runner, name string, planned []Planned, in body.Units, now time.Time) []byte {
	c := ics.NewCalendarFor("notchback")
	c.SetMethod(ics.MethodPublish)
	c.SetProductId("-//Notchback//Foot strength//EN")
	c.SetXWRCalName("Foot strength, " + name)
	seen := map[string]int{}
	for _, p := range planned {
		uid := fmt.Sprintf("%s-%s-%s", runner, p.On, p.Kind)
		if n := seen[uid]; n > 0 { // two retests on one day
			uid = fmt.Sprintf("%s-%d", uid, n+1)
		}
		seen[fmt.Sprintf("%s-%s-%s", runner, p.On, p.Kind)]++
		e := c.AddEvent(uid + "@notchback")
		e.SetDtStampTime(now.UTC())
		e.SetSequence(int(now.Unix() / 60 % (1 << 31)))
		e.SetAllDayStartAt(p.On.Time())
		e.SetAllDayEndAt(p.On.Add(1).Time())
		e.SetSummary(in.Words(p.Title))
		if len(p.Lines) > 0 {
			e.SetDescription(in.Words(strings.Join(p.Lines, "\n")))
		}
		e.SetTimeTransparency(ics.TransparencyTransparent)
		e.SetStatus(ics.ObjectStatusConfirmed)
		if p.Gone {
			e.SetStatus(ics.ObjectStatusCancelled)
		}
	}
	var out bytes.Buffer
	_ = c.SerializeTo(&out, ics.WithNewLineWindows) // a buffer does not fail; RFC 5545 asks for CRLF
	return out.Bytes()
}
