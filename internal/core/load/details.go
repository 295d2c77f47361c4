package load

import (
	"slices"
	"strconv"
	"time"

	"notchback/internal/core/body"
)

// Details are what may be told of a run beyond minutes, distance and effort. Zero is unknown, and nothing of it is ever filled in
// by a guess. Pain is a report like one of a session: above 2 its place is sore, from 7 work waits until the coach has spoken.
type Details struct {
	Start   string      `json:"start,omitempty" format:"date-time" doc:"instant it began"`
	Elapsed float64     `json:"elapsed,omitempty" doc:"minutes from start to end, stops included"`
	ClimbM  float64     `json:"climbM,omitempty" doc:"metres climbed"`
	Cadence float64     `json:"cadence,omitempty" doc:"mean steps of both feet a minute"`
	Surface string      `json:"surface,omitempty" enum:",road,track,grass,trail,sand,treadmill"`
	Kind    Kind        `json:"kind,omitempty" enum:",easy,quality,long,hills,race,back,bare"`
	Shoe    string      `json:"shoe,omitempty" maxLength:"80" doc:"name of a shoe of the intake"`
	Pain    string      `json:"pain,omitempty" enum:",0,1,2,3,4,5,6,7,8,9,10" doc:"worst while running, 0 to 10; empty: not asked"`
	Region  body.Region `json:"region,omitempty" doc:"where it hurt"`
	Side    body.Side   `json:"side,omitempty" enum:",left,right,both"`
	Began   string      `json:"began,omitempty" enum:",first,second,after" doc:"when it began: in the first half, the second, or after"`
	Gone    string      `json:"gone,omitempty" enum:",at_once,that_day,not_yet" doc:"when it was gone again"`
	// As the watch says; their error is the watch's own and not known here.
	ContactMs float64 `json:"contactMs,omitempty" doc:"mean contact time by the watch, ms"`
	BounceMm  float64 `json:"bounceMm,omitempty" doc:"vertical oscillation by the watch, mm"`
	BalanceL  float64 `json:"balanceL,omitempty" doc:"share of contact time on the left by the watch, %"`
	File      string  `json:"file,omitempty" maxLength:"200" doc:"name of the file it came from"`
	FileBytes int64   `json:"fileBytes,omitempty"`
	FileHash  string  `json:"fileHash,omitempty" maxLength:"64" doc:"SHA-256 of the file, hexadecimal"`
}

// Kind says what a run was for.
type Kind string

// The kinds. BackRun is a step on the way back to running, BareRun a part on bare feet.
const (
	EasyRun    Kind = "easy"
	QualityRun Kind = "quality"
	LongRun    Kind = "long"
	HillRun    Kind = "hills"
	RaceRun    Kind = "race"
	BackRun    Kind = "back"
	BareRun    Kind = "bare"
)

// Kinds and Surfaces list what may be said.
var (
	Kinds    = []Kind{EasyRun, QualityRun, LongRun, HillRun, RaceRun, BackRun, BareRun}
	Surfaces = []string{"road", "track", "grass", "trail", "sand", "treadmill"}
)

// check refuses details no run of so many minutes can have.
func (d Details) check(minutes float64) error {
	pains := []string{"", "0", "1", "2", "3", "4", "5", "6", "7", "8", "9", "10"}
	if d.Start != "" {
		if _, err := time.Parse(time.RFC3339, d.Start); err != nil {
			return body.Refuse("start", "is no moment; write it like 2026-03-04T06:30:00Z")
		}
	}
	switch {
	case d.Elapsed != 0 && (d.Elapsed < minutes-0.5 || d.Elapsed > 2880):
		return body.Refuse("elapsed", "is %g min; it holds the %g min of running, and at most two days", d.Elapsed, minutes)
	case d.ClimbM < 0 || d.ClimbM > 15000:
		return body.Refuse("climbM", "is %g; enter 0 to 15,000 m", d.ClimbM)
	case d.Cadence != 0 && (d.Cadence < 80 || d.Cadence > 260):
		return body.Refuse("cadence", "is %g; enter 80 to 260 steps of both feet a minute", d.Cadence)
	case d.Surface != "" && !slices.Contains(Surfaces, d.Surface):
		return body.Refuse("surface", "is none of road, track, grass, trail, sand, treadmill")
	case d.Kind != "" && !slices.Contains(Kinds, d.Kind):
		return body.Refuse("kind", "is none of easy, quality, long, hills, race, back to running, bare")
	case !slices.Contains(pains, d.Pain):
		return body.Refuse("pain", "is a whole number from 0 to 10, or empty")
	case d.Region != "" && !d.Region.Valid():
		return body.Refuse("region", "is no place on the map")
	case !slices.Contains([]string{"", "first", "second", "after"}, d.Began) || !slices.Contains([]string{"", "at_once", "that_day",
		"not_yet"}, d.Gone):
		return body.Refuse("began", "began in the first half, the second, or after, and was gone at once, that day, or not yet")
	case d.Region != "" && d.Pain == "":
		return body.Refuse("pain", "belongs to the place: enter 0 to 10")
	case d.ContactMs < 0 || d.ContactMs > 1000 || d.BounceMm < 0 || d.BounceMm > 300 || d.BalanceL < 0 || d.BalanceL > 100:
		return body.Refuse("contactMs", "contact time, bounce or balance of the watch is out of range")
	}
	return nil
}

// Hurt is the pain a run told of, 0 to 10, and where: the whole runner where no place was named.
func (r Run) Hurt() (pain int, at body.Region, side body.Side) {
	pain, _ = strconv.Atoi(r.Pain)
	if at, side = r.Region, r.Side; at == "" {
		at = body.WholePerson
	}
	if side == "" {
		side = body.Both
	}
	return pain, at, side
}
