// Package formats writes what leaves the application: hand-outs as PDF, calendars, tables. It knows its documents and
// nobody who fills them.
package formats

import (
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
)

// Handout is what a runner takes home: the week day by day, and each exercise once.
type Handout struct {
	Runner    string         `json:"runner"`
	From      body.Date      `json:"from"`
	Until     body.Date      `json:"until"`
	Days      []HandoutDay   `json:"days"`
	Exercises []HandoutSheet `json:"exercises" doc:"each exercise of the week once, in session order"`
	Advice    []string       `json:"advice"`
	Cautions  []string       `json:"cautions" doc:"general, and the runner's own"`
	Locks     []string       `json:"locks" doc:"open warning signs"`
	Retests   []build.Retest `json:"retests"`
}

// HandoutDay is one day of it.
type HandoutDay struct {
	On    body.Date     `json:"on"`
	Run   string        `json:"run" doc:"the fixed run in words; empty without one"`
	Race  string        `json:"race"`
	Bare  string        `json:"bare" doc:"what is done on bare feet, in words; empty for nothing"`
	Slots []HandoutSlot `json:"slots"`
	Kept  []string      `json:"kept" doc:"planned and not to be done, with the reason"`
}

// HandoutSlot is one session of a day.
type HandoutSlot struct {
	Slot    catalog.Slot  `json:"slot"`
	Words   string        `json:"words"`
	Minutes int           `json:"minutes" doc:"0 for habits and drills inside a run"`
	Lines   []HandoutLine `json:"lines"`
}

// HandoutLine is one exercise of a session.
type HandoutLine struct {
	Exercise string   `json:"exercise"`
	Name     string   `json:"name"`
	Doses    []string `json:"doses" doc:"by side, the weaker first; one line where both legs do the same"`
	Then     string   `json:"then,omitempty" doc:"control that follows at once"`
	Short    bool     `json:"short" doc:"part of the version for a day with few minutes"`
}

// HandoutSheet explains one exercise.
type HandoutSheet struct {
	Exercise catalog.Exercise `json:"exercise"`
	Rail     string           `json:"rail"`
	Kit      []string         `json:"kit"`
	Drawing  []catalog.Shape  `json:"drawing"`
	Cautions []string         `json:"cautions"`
}

// Planned is one day's entry of a calendar.
type Planned struct {
	On    body.Date
	Title string
	Lines []string
	Gone  bool   // stood in the calendar before, no longer
	Kind  string // session, run, bare or retest
}
