package room

import (
	"bytes"
	"context"

	"github.com/google/uuid"

	"notchback/internal/core/body"
	"notchback/internal/core/gait"
	"notchback/internal/core/screen"
	"notchback/internal/record"
	"notchback/internal/store"
)

// Gait is the room where clips are read.
type Gait struct {
	Today      body.Date              `json:"today"`
	Current    string                 `json:"current" doc:"id of the screen being taken; empty: none is open"`
	SignsAsked bool                   `json:"signsAsked"`
	Locked     string                 `json:"locked" doc:"the warning sign that forbids a screen; empty: none"`
	Clips      []store.Clip           `json:"clips" doc:"kept ones, newest first"`
	Contexts   []screen.Context       `json:"contexts" doc:"how they ran in earlier screens"`
	Spots      map[string][]gait.Spot `json:"spots" doc:"points of each view"`
	Chain      []screen.Link          `json:"chain"`
	Cadence    CadencePlan            `json:"cadence"`
}

// CadencePlan is where the cadence is to go, and in which steps.
type CadencePlan struct {
	Own      float64       `json:"own" doc:"mean of the newest counts; 0 not taken"`
	Half     float64       `json:"half"`
	Context  string        `json:"context"`
	Target   float64       `json:"target" doc:"0: left alone"`
	Approach string        `json:"approach"`
	Steps    []screen.Step `json:"steps"`
	Reason   body.Reason   `json:"reason"`
}

// Gait assembles the room.
func (d *Desk) Gait(ctx context.Context, a Actor, runner string) (v Gait, err error) {
	err = d.Read(ctx, a, runner, record.NeedFacts, func(tx *store.Tx, o Chart) error {
		v = Gait{Today: o.Today, SignsAsked: o.SignsAsked(), Contexts: []screen.Context{},
			Spots: map[string][]gait.Spot{"side": gait.Spots("side"), "rear": gait.Spots("rear")}}
		if a := o.Facts().Run(body.EasyMinutes); !a.May() {
			v.Locked = a.Says()
		}
		s := o.Screening()
		v.Contexts = s.Contexts
		if s.Current != nil {
			v.Current = s.Current.ID
		}
		read := o.Read()
		v.Chain = read.Chain
		v.Cadence = o.cadence()
		v.Clips, err = tx.Clips(ctx, runner)
		return err
	})
	return v, err
}

// cadence plans from the runner's own cadence.
func (o Chart) cadence() CadencePlan {
	p := CadencePlan{Steps: []screen.Step{}, Approach: o.House.Choice(o.Profile.Approaches, "cadence")}
	own, ok := screen.OwnCadence(o.Trials(), o.Profile, o.House)
	if !ok {
		p.Reason = o.House.Because("gait.cadence-target", "no cadence yet: count 15 s at the gait station, or mark a clip")
		return p
	}
	p.Own, p.Half, p.Context, p.Target, p.Reason = own.Reading.Value, own.Half, own.Reading.Context, own.Target, own.Why
	p.Steps = screen.CadenceSteps(p.Own, p.Target, o.House)
	return p
}

func (o Chart) gaitBody() gait.Body {
	return gait.Body{MassKg: o.Profile.MassKg, LegMm: o.Profile.LegMm, HeightCm: o.Profile.HeightCm}
}

// Clip is what was marked on a kept clip.
func (d *Desk) Clip(ctx context.Context, a Actor, runner, id string) (c record.Kept[gait.Clip], err error) {
	err = d.Store.Read(ctx, a.Practice, func(tx *store.Tx) error {
		c, err = tx.Clip(ctx, runner, id)
		return err
	})
	return c, err
}

// ReadClip reads the numbers of a clip without keeping anything.
func (d *Desk) ReadClip(ctx context.Context, a Actor, runner string, c gait.Clip) (gait.Reading, error) {
	o, err := d.person(ctx, a, runner)
	if err != nil {
		return gait.Reading{}, err
	}
	return gait.Read(c, o.gaitBody(), o.House)
}

// ProposeMarks proposes marks from followed tape.
func (d *Desk) ProposeMarks(ctx context.Context, a Actor, runner string, c gait.Clip, tracks []gait.Track) ([]gait.Proposal, error) {
	if _, err := d.person(ctx, a, runner); err != nil {
		return nil, err
	}
	if err := c.Check(); err != nil {
		return nil, err
	}
	return gait.Propose(tracks, c)
}

// CompareClips reads two clips of the same runner and sets them side by side.
func (d *Desk) CompareClips(ctx context.Context, a Actor, runner string, first, second gait.Clip, across bool) ([]gait.Difference, error) {
	o, err := d.person(ctx, a, runner)
	if err != nil {
		return nil, err
	}
	x, err := gait.Read(first, o.gaitBody(), o.House)
	if err != nil {
		return nil, err
	}
	y, err := gait.Read(second, o.gaitBody(), o.House)
	if err != nil {
		return nil, err
	}
	return gait.Differ(x.Figures, y.Figures, across), nil
}

// KeepClip keeps what was marked with a screen, and its figures as trials of it. replaces is an earlier
// keeping of the same clip; empty for none.
func (d *Desk) KeepClip(ctx context.Context, a Actor, runner, screenID, id, replaces string, c gait.Clip) error {
	return d.Change(ctx, a, runner, record.NeedFacts, func(tx *store.Tx, o Chart) error {
		return o.KeepClipIn(ctx, tx, a, screenID, id, replaces, c)
	})
}

// KeepClipIn does it inside a transaction.
func (o Chart) KeepClipIn(ctx context.Context, tx *store.Tx, a Actor, screenID, id, replaces string, c gait.Clip) error {
	s, err := o.screen(screenID)
	if err != nil {
		return err
	}
	if s.Kind == screen.Session {
		return body.Refuse("screen", "a quick test takes no clips; finish it and start a gait screen")
	}
	read, err := gait.Read(c, o.gaitBody(), o.House)
	if err != nil {
		return err
	}
	if len(c.Marks) == 0 && len(c.Stills) == 0 {
		return body.Refuse("marks", "nothing is marked yet: mark a touchdown or set points on a still first")
	}
	fresh, err := tx.AddClip(ctx, o.ID, screenID, id, replaces, o.Today, c, read.Figures, o.House.Version, a.Coach)
	if err != nil || !fresh {
		return err
	}
	for _, t := range read.Takes {
		// Named after the clip, the measure and the side: sent again it is the same write.
		t.ID = uuid.NewSHA1(uuid.MustParse(id), []byte(t.Measure+"|"+string(t.Side))).String()
		t.On, t.Clip = o.Today, id
		n := 0
		for _, x := range s.Trials {
			if x.Measure == t.Measure && x.Side == t.Side && x.Key() == t.Key() && (replaces == "" || x.Clip != replaces) {
				n++
			}
		}
		if t, err = screen.Enter(t, n, o.Profile); err != nil {
			return err
		}
		m, _ := screen.FindMeasure(t.Measure)
		if no, why := screen.Barred(m, t.Side, s.Trials, o.Circumstances(screenID), o.House); no {
			return body.Refuse("measure", "%s, %s: %s", m.Name, t.Side, why.Says)
		}
		if err := tx.AddTrial(ctx, o.ID, screenID, t, a.Coach); err != nil {
			return err
		}
	}
	return nil
}

// RemoveClip takes a kept clip and its figures out of the reading, or puts them back.
func (d *Desk) RemoveClip(ctx context.Context, a Actor, runner, id string, out bool) error {
	return d.Touch(ctx, a, runner, func(tx *store.Tx) error { return tx.RemoveClip(ctx, runner, id, out) })
}

// DropStill deletes a kept picture for good.
func (d *Desk) DropStill(ctx context.Context, a Actor, runner, id string) error {
	return d.Touch(ctx, a, runner, func(tx *store.Tx) error { return tx.DropStill(ctx, runner, id) })
}

// stillMost is the largest picture that is kept, bytes.
const stillMost = 180 << 10

// KeepStill keeps one picture, a JPEG.
func (d *Desk) KeepStill(ctx context.Context, a Actor, runner, id string, picture []byte) error {
	switch {
	case !bytes.HasPrefix(picture, []byte{0xff, 0xd8, 0xff}):
		return body.Refuse("picture", "a still is a JPEG picture")
	case len(picture) > stillMost:
		return body.Refuse("picture", "the still has %d KB; at most %d", len(picture)>>10, stillMost>>10)
	}
	return d.Touch(ctx, a, runner, func(tx *store.Tx) error { return tx.AddStill(ctx, runner, id, picture, a.Coach) })
}

// Still returns a kept picture.
func (d *Desk) Still(ctx context.Context, a Actor, runner, id string) (picture []byte, err error) {
	err = d.Store.Read(ctx, a.Practice, func(tx *store.Tx) error {
		picture, err = tx.Still(ctx, runner, id)
		return err
	})
	return picture, err
}
