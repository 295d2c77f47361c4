package barefoot

import (
	"fmt"
	"slices"
	"strconv"

	"notchback/internal/core/body"
)

// Log is one go on bare feet, or in the thinner shoe, as it was told.
type Log struct {
	ID       string      `json:"id"`
	On       body.Date   `json:"on"`
	Stage    int         `json:"stage" minimum:"0" maximum:"5" doc:"what it was: 0 at home, 1 a walk, 2 strength, 3 bounces, 4 and 5 running"`
	Minutes  float64     `json:"minutes"`
	Contacts int         `json:"contacts" doc:"of both feet"`
	Whole    bool        `json:"whole,omitempty" doc:"of strength: the whole session, not its first half"`
	Surface  string      `json:"surface,omitempty" enum:",floor,pavement,track,grass,sand,trail"`
	Wet      bool        `json:"wet,omitempty"`
	Cold     bool        `json:"cold,omitempty"`
	Pain     string      `json:"pain,omitempty" enum:",0,1,2,3,4,5,6,7,8,9,10" doc:"worst while doing it, 0–10; empty: not told"`
	Region   body.Region `json:"region,omitempty"`
	Side     body.Side   `json:"side,omitempty" enum:",left,right,both"`
	Skin     string      `json:"skin,omitempty" enum:",fine,red,broken" doc:"looked at afterwards; empty: not told"`
	SkinSide body.Side   `json:"skinSide,omitempty" enum:",left,right,both"`
	Bone     string      `json:"bone,omitempty" enum:",no,left,right,both" doc:"pain on a bone of the top of the foot, to one finger"`
	Seq      int64       `json:"seq,omitempty" doc:"report number"`
}

// Surfaces are where bare feet go, the gentlest to learn on first.
var Surfaces = []string{"floor", "track", "pavement", "grass", "sand", "trail"}

// Check refuses a log nobody can mean.
func (l Log) Check(today body.Date) error {
	side := []body.Side{"", body.Left, body.Right, body.Both}
	switch {
	case !l.On.Valid() || l.On > today || l.On < today.Add(-60):
		return body.Refuse("on", "must be a day of the last 60, not after today")
	case l.Stage < Home || l.Stage > Share:
		return body.Refuse("stage", "is 0 to 5")
	case l.Minutes < 0 || l.Minutes > 600 || l.Contacts < 0 || l.Contacts > 5000:
		return body.Refuse("minutes", "enter 0 to 600 min, or 0 to 5,000 contacts")
	case l.Stage != Strength && l.Stage != Bouncing && l.Minutes == 0:
		return body.Refuse("minutes", "say how many minutes it was")
	case l.Stage == Bouncing && l.Contacts == 0:
		return body.Refuse("contacts", "say how many contacts it was")
	case l.Surface != "" && !slices.Contains(Surfaces, l.Surface):
		return body.Refuse("surface", "is none of floor, track, pavement, grass, sand, trail")
	case l.Pain != "" && !slices.Contains([]string{"0", "1", "2", "3", "4", "5", "6", "7", "8", "9", "10"}, l.Pain):
		return body.Refuse("pain", "is a whole number from 0 to 10, or empty")
	case l.Region != "" && (!l.Region.Valid() || l.Pain == ""):
		return body.Refuse("region", "is a place on the map, with its pain from 0 to 10")
	case !slices.Contains(side, l.Side) || !slices.Contains(side, l.SkinSide):
		return body.Refuse("side", "is left, right or both")
	case !slices.Contains([]string{"", "fine", "red", "broken"}, l.Skin):
		return body.Refuse("skin", "is fine, red or broken")
	case !slices.Contains([]string{"", "no", "left", "right", "both"}, l.Bone):
		return body.Refuse("bone", "is no, or the foot it is on")
	}
	return nil
}

// Hurt is the pain it told of, 0–10; told is false where it was not asked.
func (l Log) Hurt() (pain int, told bool) {
	pain, err := strconv.Atoi(l.Pain)
	return pain, err == nil
}

// fills reports whether a log is a full dose of its stage for a place; stages 4 and 5 are counted in minutes a week.
func (l Log) fills(a At) bool {
	d := a.Dose()
	switch {
	case l.Stage != a.Stage && !(a.Stage >= RunWalk && l.Stage >= RunWalk):
		return false
	case a.Stage == Strength:
		return l.Whole || d.Part == "half"
	case a.Stage == Bouncing:
		return l.Contacts >= d.Contacts
	}
	return true
}

// Morning is what the mornings of a day said, of both legs at once.
type Morning struct {
	On    body.Date `json:"on"`
	All   bool      `json:"all" doc:"every place asked about was answered"`
	Pain  int       `json:"pain" doc:"worst of the places, 0–10"`
	Over  float64   `json:"over" doc:"most over usual"`
	Where string    `json:"where,omitempty" doc:"the place of it"`
	Sore  int       `json:"sore" doc:"calf or sole, 0–10"`
	Seq   int64     `json:"seq"`
}

// New is a ground, dry, wet or cold, they have not been on, and what the first go on it is.
type New struct {
	Ground string `json:"ground"`
	Half   string `json:"half" doc:"in words; empty where the go is not counted"`
}

// NewGround lists them for a dose.
func NewGround(d Dose, logs []Log) []New {
	out := []New{}
	for _, s := range Surfaces {
		for _, x := range []struct {
			words     string
			wet, cold bool
		}{{s, false, false}, {s + ", wet", true, false}, {s + ", cold", false, true}} {
			half, first := First(d, s, x.wet, x.cold, logs)
			n := New{Ground: x.words}
			if half.Contacts > 0 {
				n.Half = fmt.Sprintf("%d contacts", half.Contacts)
			} else if half.Minutes > 0 {
				n.Half = fmt.Sprintf("%d min", half.Minutes)
			}
			if first {
				out = append(out, n)
			}
		}
	}
	return out
}

// First is the first go on a surface, wet or cold: half of the dose, rounded up.
func First(d Dose, surface string, wet, cold bool, logs []Log) (Dose, bool) {
	before := slices.ContainsFunc(logs, func(l Log) bool {
		return l.Surface == surface && (!wet || l.Wet) && (!cold || l.Cold)
	})
	if before || surface == "" {
		return d, false
	}
	d.Minutes, d.Contacts = (d.Minutes+1)/2, (d.Contacts+1)/2
	return d, true
}
