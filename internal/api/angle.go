package api

import (
	"context"
	"crypto/rand"
	"fmt"
	"math"
	"math/big"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"notchback/internal/core/body"
	"notchback/internal/core/screen"
	"notchback/internal/room"
	"notchback/internal/store"
)

// A phone may be an instrument of one open screen and measure: a code that is good once and for two minutes pairs it, and all
// it can do then is send angles. What it sends is kept nowhere; the desk shows it, and the coach's key enters it.
const (
	codeGood   = 2 * time.Minute
	silentMost = 2 * time.Minute // a paired phone that sends nothing is let go
	pairedMost = 20 * time.Minute
	freshMost  = 2 * time.Second // an angle older than this is none: the phone has lost its signal
	readings   = 10 * perSecond
)

// paired is one phone as an instrument, or the code that waits for one.
type paired struct {
	practice, runner, screen, measure string

	code    string // empty once it was used
	token   string // of the phone; empty until it is there
	made    time.Time
	heard   time.Time
	degrees []float64
}

// over reports that a code or a phone is good for nothing any more.
func (p *paired) over(now time.Time) bool {
	if p.token == "" {
		return now.Sub(p.made) >= codeGood
	}
	return now.Sub(p.heard) >= silentMost || now.Sub(p.made) >= pairedMost
}

// instruments are the phones that are paired, by the desk's id.
type instruments struct {
	sync.Mutex
	by map[string]*paired
}

// find calls f with what fits and is not over; nothing is found otherwise.
func (in *instruments) find(now time.Time, fits func(id string, p *paired) bool, f func(*paired)) bool {
	in.Lock()
	defer in.Unlock()
	for id, p := range in.by {
		if p.over(now) {
			delete(in.by, id)
			continue
		}
		if fits(id, p) {
			f(p)
			return true
		}
	}
	return false
}

// Pairing is a phone as an instrument, as the desk sees it.
type Pairing struct {
	State   string  `json:"state" enum:"waiting,there" doc:"for the code to be typed; the phone is there"`
	Code    string  `json:"code" doc:"to type on the phone; empty once it was"`
	Seconds int     `json:"seconds" doc:"that the code is good for"`
	Heard   bool    `json:"heard" doc:"an angle has come"`
	Degrees float64 `json:"degrees" doc:"the newest"`
	Steady  bool    `json:"steady" doc:"held still for a second"`
	Keep    float64 `json:"keep" doc:"mean of the last second"`
}

func (p *paired) seen(now time.Time) Pairing {
	out := Pairing{State: "waiting", Code: p.code, Seconds: int(codeGood.Seconds() - now.Sub(p.made).Seconds())}
	if p.token != "" {
		out.State, out.Seconds = "there", 0
	}
	if n := len(p.degrees); n > 0 && now.Sub(p.heard) < freshMost {
		out.Heard, out.Degrees = true, p.degrees[n-1]
		out.Keep, out.Steady = screen.Steady(p.degrees, perSecond)
	}
	return out
}

type pairingPath struct {
	ScreenPath
	Phone string `path:"phone" format:"uuid"`
}

// angles are the phones as instruments: the desk's side.
func (s *server) angles() {
	mine := func(ctx context.Context, in *pairingPath) func(string, *paired) bool {
		return func(id string, p *paired) bool {
			return id == in.Phone && p.practice == actor(ctx).Practice && p.runner == in.Runner && p.screen == in.Screen
		}
	}
	do(s, http.MethodPut, "/api/runners/{runner}/screens/{screen}/phones/{phone}", "pair-phone", "A code that makes a phone an instrument",
		func(ctx context.Context, in *struct {
			ScreenPath
			Phone string `path:"phone" format:"uuid"`
			Body  struct {
				Measure string `json:"measure"`
			}
		}) (out Pairing, err error) {
			m, ok := screen.FindMeasure(in.Body.Measure)
			if !ok || m.Tool != "inclinometer" {
				return out, body.Refuse("measure", "is not taken by an inclinometer")
			}
			view, err := room.ScreenRoom.Look(ctx, s.desk, actor(ctx), in.Runner)
			if err != nil {
				return out, err
			}
			if view.Current == nil || view.Current.ID != in.Screen {
				return out, body.Refuse("screen", "is not open; start a screen first")
			}
			return s.pair(in.Phone, paired{practice: actor(ctx).Practice, runner: in.Runner, screen: in.Screen, measure: m.ID})
		})
	do(s, http.MethodGet, "/api/runners/{runner}/screens/{screen}/phones/{phone}", "paired-phone", "What a phone as an instrument reads",
		func(ctx context.Context, in *pairingPath) (out Pairing, _ error) {
			now := s.cfg.Clock()
			if !s.phones.find(now, mine(ctx, in), func(p *paired) { out = p.seen(now) }) {
				return out, errGone
			}
			return out, nil
		})
	do(s, http.MethodDelete, "/api/runners/{runner}/screens/{screen}/phones/{phone}", "end-phone", "End a phone as an instrument",
		func(ctx context.Context, in *pairingPath) (nothing, error) {
			if !s.phones.find(s.cfg.Clock(), mine(ctx, in), func(p *paired) { p.made, p.heard = time.Time{}, time.Time{} }) {
				return nothing{}, errGone
			}
			return nothing{}, nil
		})
	s.phoneAngles()
}

// pair makes a code; asked again it is the same. A screen has one phone at a time.
func (s *server) pair(id string, p paired) (Pairing, error) {
	n, err := rand.Int(rand.Reader, big.NewInt(1_000_000))
	if err != nil {
		return Pairing{}, fmt.Errorf("making a code: %w", err)
	}
	now := s.cfg.Clock()
	p.made, p.code = now, fmt.Sprintf("%06d", n)
	s.phones.Lock()
	defer s.phones.Unlock()
	if was := s.phones.by[id]; was != nil {
		if was.practice != p.practice || was.screen != p.screen || was.measure != p.measure || was.over(now) {
			return Pairing{}, errGone
		}
		return was.seen(now), nil
	}
	for other, x := range s.phones.by {
		if x.screen == p.screen || x.over(now) {
			delete(s.phones.by, other)
		}
	}
	s.phones.by[id] = &p
	return p.seen(now), nil
}

// Instrument is what a phone is told once it is paired: nothing of anybody.
type Instrument struct {
	Token string `json:"token" doc:"said with every angle"`
	Where string `json:"where" doc:"where the phone is held"`
}

var errGone = huma.Error404NotFound("That phone has ended, or its code was not used in time; make another code.")

var errEnded = huma.Error401Unauthorized("The desk has ended this. Ask for a new code there.")

// phoneAngles is the phone's side. No private link is asked for: the code is all it goes by.
func (s *server) phoneAngles() {
	m := huma.Middlewares{s.withIP}
	type codeIn struct {
		Body struct {
			Code string `json:"code" maxLength:"20"`
		}
	}
	open := func(ctx context.Context, in *codeIn) (out Instrument, err error) {
		done, err := s.counted(ctx, "angle codes", openTries)
		if err != nil {
			return out, err
		}
		code := strings.Join(strings.Fields(in.Body.Code), "")
		now := s.cfg.Clock()
		token := store.NewToken()
		fits := func(_ string, p *paired) bool { return code != "" && p.code == code }
		if !s.phones.find(now, fits, func(p *paired) { p.code, p.token, p.heard = "", token, now }) {
			return out, body.Refuse("code", "does not fit, was used, or is older than two minutes; make another at the desk")
		}
		return Instrument{token, "On the front of the shin, below the knee, its long side along the bone"}, done()
	}
	register(s, http.MethodPost, "/api/phone/angle/codes", "open-angle", "Make this phone an instrument", m, open)
	register(s, http.MethodPost, "/api/phone/angle/readings", "send-angles", "Angles of this phone from the vertical", m,
		func(ctx context.Context, in *struct {
			By   string `header:"Authorization" maxLength:"200"`
			Body struct {
				Degrees []float64 `json:"degrees" minItems:"1" maxItems:"50" doc:"since the last ones, ten a second"`
			}
		}) (nothing, error) {
			token, _ := strings.CutPrefix(in.By, "Bearer ")
			for _, d := range in.Body.Degrees {
				if math.IsNaN(d) || math.Abs(d) > 180 {
					return nothing{}, body.Refuse("degrees", "is an angle from −180 to 180")
				}
			}
			now := s.cfg.Clock()
			fits := func(_ string, p *paired) bool { return token != "" && p.token == token }
			if !s.phones.find(now, fits, func(p *paired) {
				p.heard, p.degrees = now, append(p.degrees, in.Body.Degrees...)
				p.degrees = p.degrees[max(0, len(p.degrees)-readings):]
			}) {
				return nothing{}, errEnded
			}
			return nothing{}, nil
		})
}
