package runfile

import (
	"io"
	"math"
	"strings"

	"github.com/muktihari/fit/decoder"
	"github.com/muktihari/fit/kit/semicircles"
	"github.com/muktihari/fit/profile/basetype"
	"github.com/muktihari/fit/profile/mesgdef"
	"github.com/muktihari/fit/profile/typedef"
	"github.com/muktihari/fit/profile/untyped/mesgnum"
	"github.com/muktihari/fit/proto"
)

// fitRun gathers a FIT file's messages as they pass.
type fitRun struct {
	track    track
	sessions []*mesgdef.Session
	activity bool
}

// OnMesg hears one message.
func (f *fitRun) OnMesg(m proto.Message) {
	switch m.Num {
	case mesgnum.FileId:
		f.activity = mesgdef.NewFileId(&m).Type == typedef.FileActivity
	case mesgnum.Session:
		if len(f.sessions) < 100 {
			f.sessions = append(f.sessions, mesgdef.NewSession(&m))
		}
	case mesgnum.Record:
		r := mesgdef.NewRecord(&m)
		p := nowhere(r.Timestamp)
		if r.PositionLat != basetype.Sint32Invalid && r.PositionLong != basetype.Sint32Invalid {
			p.lat, p.lon = semicircles.ToDegrees(r.PositionLat), semicircles.ToDegrees(r.PositionLong)
		}
		if p.alt = r.EnhancedAltitudeScaled(); math.IsNaN(p.alt) {
			p.alt = r.AltitudeScaled()
		}
		p.meters = r.DistanceScaled()
		if r.Cadence != basetype.Uint8Invalid {
			p.cad = float64(r.Cadence)
			if f := r.FractionalCadenceScaled(); !math.IsNaN(f) {
				p.cad += f
			}
		}
		f.track.add(p)
	}
}

// readFIT reads the runs of a FIT file.
func readFIT(r io.Reader) ([]Run, error) {
	var f fitRun
	d := decoder.New(r, decoder.WithMesgListener(&f), decoder.WithBroadcastOnly())
	for d.Next() {
		if _, err := d.Decode(); err != nil {
			return nil, fitError(err)
		}
	}
	if !f.activity {
		return nil, refuse("is no record of an activity")
	}
	if len(f.sessions) == 0 {
		return nil, refuse("has no summary of its run: it was not finished on the watch")
	}
	var out []Run
	other := ""
	for _, s := range f.sessions {
		if s.Sport != typedef.SportRunning && s.Sport != typedef.SportGeneric && s.Sport != typedef.SportInvalid {
			other = strings.ReplaceAll(s.Sport.String(), "_", " ")
			continue
		}
		run := Run{Start: s.StartTime, Moving: known(s.TotalTimerTimeScaled()) / 60, Elapsed: known(s.TotalElapsedTimeScaled()) / 60,
			Km: known(s.TotalDistanceScaled()) / 1000, RPE: -1, Pain: -1, ContactMs: known(s.AvgStanceTimeScaled()),
			BounceMm: known(s.AvgVerticalOscillationScaled()), BalanceL: known(s.AvgStanceTimeBalanceScaled())}
		if s.TotalAscent != basetype.Uint16Invalid {
			run.ClimbM = float64(s.TotalAscent)
		}
		if s.SubSport == typedef.SubSportTreadmill || s.SubSport == typedef.SubSportIndoorRunning {
			run.Surface = "treadmill"
		}
		if len(f.sessions) == 1 {
			f.track.tell(&run)
		}
		if run.Cadence == 0 && s.AvgCadence != basetype.Uint8Invalid {
			run.steps(float64(s.AvgCadence) + known(s.AvgFractionalCadenceScaled()))
		}
		out = append(out, run)
	}
	if len(out) == 0 {
		return nil, refuse("is no run: the watch calls it %s", other)
	}
	return out, nil
}

func known(v float64) float64 {
	if math.IsNaN(v) || math.IsInf(v, 0) || v < 0 {
		return 0
	}
	return v
}

// fitError says what is wrong with a file that the decoder gave up.
func fitError(err error) error {
	switch text := err.Error(); {
	case strings.Contains(text, "crc checksum mismatch"):
		return refuse("does not add up to its own check sum: it was changed or damaged on the way; export it again")
	case strings.Contains(text, "EOF"):
		return io.ErrUnexpectedEOF
	}
	return refuse("is damaged: export it again")
}
