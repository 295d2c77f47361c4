// Package device says what instruments the rooms may be filled in by. The program wires real ones or stand-ins; made-up
// figures never stand in a real practice.
package device

import (
	"context"
	"io/fs"
	"time"

	"notchback/internal/core/body"
)

// Inclinometer reads how far a shin leans, degrees from the vertical.
type Inclinometer interface {
	// Stream gives readings until the context ends or give refuses.
	Stream(ctx context.Context, side body.Side, give func(degrees float64) error) error
}

// Films are simulated clips to practise on.
type Films interface {
	List() []Film
	// Open gives a clip's file, MP4; fs.ErrNotExist for an unknown name.
	Open(name string) (fs.File, error)
}

// Film is a simulated clip, with what is true of its made-up runner.
type Film struct {
	Name       string  `json:"name"`
	Says       string  `json:"says"`
	View       string  `json:"view" enum:"side,rear"`
	Heading    string  `json:"heading" enum:"left,right"`
	CaptureFps float64 `json:"captureFps"`
	SpeedKmh   float64 `json:"speedKmh"`
	Shod       string  `json:"shod" enum:"shoes,minimal,barefoot"`
	Tired      bool    `json:"tired"`
	Known      []Truth `json:"known" doc:"the truth, to compare with"`
}

// Truth is one true figure of a film, named as the gait room names it.
type Truth struct {
	ID    string    `json:"id"`
	Side  body.Side `json:"side"`
	Value float64   `json:"value"`
}

// Watch holds runs that were recorded on it, as files.
type Watch interface {
	Outings(now time.Time) []File
}

// File is a file of a device.
type File struct {
	Name string `json:"name"`
	Data []byte `json:"data"`
}
