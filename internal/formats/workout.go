package formats

import (
	"time"

	"notchback/internal/fit"
)

// Workout is a run with blocks that a watch counts: so many times on and off, after a quiet beginning.
type Workout struct {
	Name   string
	WarmS  int // easy seconds before the first block
	Blocks []WorkoutBlock
	Made   time.Time
}

// WorkoutBlock is one drill or beat: so many times so long, easy running between.
type WorkoutBlock struct {
	Name  string
	Times int
	OnS   int // seconds
	OffS  int // seconds easy after each
	Spm   int // steps of both feet a minute; 0 none
}

// Numbers of the FIT format, from memory; another library reads the file back in the tests.
const (
	mesgFileID, mesgWorkout, mesgStep = 0, 26, 27

	byTime, byOpen, byRepeat = 0, 5, 6
	targetCadence, noTarget  = 3, 2
	active, rest, warmUp     = 0, 1, 2
)

// nameBytes is how long the name of a step is, in bytes: a message always holds as many.
const nameBytes = 24

// FIT writes the workout as a file that a watch reads. A watch counts the cadence of running by one foot: the target is half of the
// steps of both, one to each side of it.
func (w Workout) FIT() []byte {
	var f fit.File
	f.Add(mesgFileID, fit.Field{Number: 0, Value: uint8(5)}, fit.Field{Number: 1, Value: uint16(255)}, fit.Field{Number: 2, Value: uint16(1)},
		fit.Field{Number: 3, Value: uint32(w.Made.Unix())}, fit.Field{Number: 4, Value: fit.Time(w.Made)})
	type step struct {
		name            string
		kind, target    uint8
		duration, value uint32
		low, high       uint32
		intensity       uint8
	}
	steps := []step{}
	if w.WarmS > 0 {
		steps = append(steps, step{name: "Easy", kind: byTime, duration: uint32(w.WarmS) * 1000, target: noTarget, intensity: warmUp})
	}
	for _, b := range w.Blocks {
		first := uint32(len(steps))
		on := step{name: b.Name, kind: byTime, duration: uint32(b.OnS) * 1000, target: noTarget, intensity: active}
		if b.Spm > 0 {
			on.target, on.low, on.high = targetCadence, uint32(b.Spm/2-1), uint32((b.Spm+1)/2+1)
		}
		steps = append(steps, on, step{name: "Easy", kind: byTime, duration: uint32(b.OffS) * 1000, target: noTarget, intensity: rest})
		if b.Times > 1 {
			steps = append(steps, step{kind: byRepeat, duration: first, value: uint32(b.Times), target: noTarget, intensity: active})
		}
	}
	steps = append(steps, step{name: "Easy to the end", kind: byOpen, target: noTarget, intensity: active})
	f.Add(mesgWorkout, fit.Field{Number: 4, Value: uint8(1)}, fit.Field{Number: 6, Value: uint16(len(steps))},
		fit.Field{Number: 8, Value: padded(w.Name)})
	for i, s := range steps {
		target := s.value
		f.Add(mesgStep, fit.Field{Number: 254, Value: uint16(i)}, fit.Field{Number: 0, Value: padded(s.name)},
			fit.Field{Number: 1, Value: s.kind}, fit.Field{Number: 2, Value: s.duration}, fit.Field{Number: 3, Value: s.target},
			fit.Field{Number: 4, Value: target}, fit.Field{Number: 5, Value: s.low}, fit.Field{Number: 6, Value: s.high},
			fit.Field{Number: 7, Value: s.intensity})
	}
	return f.Bytes()
}

// padded cuts or fills a name to its length, on a whole letter.
func padded(s string) string {
	for len(s) > nameBytes {
		r := []rune(s)
		s = string(r[:len(r)-1])
	}
	for len(s) < nameBytes {
		s += "\x00"
	}
	return s
}
