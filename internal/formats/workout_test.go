package formats

import (
	"bytes"
	"testing"
	"time"

	"github.com/muktihari/fit/decoder"
	"github.com/muktihari/fit/profile/filedef"
	"github.com/muktihari/fit/profile/mesgdef"
	"github.com/muktihari/fit/profile/typedef"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A workout is read back by a library that did not write it: its steps, their lengths, the repetition and the target, which is of
// one foot.
func TestAWorkoutForAWatch(t *testing.T) {
	w := Workout{Name: "Cadence, Tue 3 Mar", WarmS: 600, Made: time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC),
		Blocks: []WorkoutBlock{{"Metronome blocks – long name", 4, 60, 240, 171}, {"Tall posture", 1, 90, 30, 0}}}
	dec := decoder.New(bytes.NewReader(w.FIT()))
	file, err := dec.Decode()
	require.NoError(t, err)
	got := filedef.NewWorkout(file.Messages...)
	assert.Equal(t, typedef.FileWorkout, got.FileId.Type)
	assert.Equal(t, "Cadence, Tue 3 Mar", got.Workout.WktName)
	assert.Equal(t, typedef.SportRunning, got.Workout.Sport)
	assert.EqualValues(t, len(got.WorkoutSteps), got.Workout.NumValidSteps)
	type seen struct {
		name      string
		kind      typedef.WktStepDuration
		seconds   float64
		target    typedef.WktStepTarget
		low, high uint32
	}
	steps := []seen{}
	for _, s := range got.WorkoutSteps {
		x := seen{name: s.WktStepName, kind: s.DurationType, target: s.TargetType}
		if s.DurationType == typedef.WktStepDurationTime {
			x.seconds = float64(s.DurationValue) / 1000
		}
		if s.TargetType == typedef.WktStepTargetCadence {
			x.low, x.high = s.CustomTargetValueLow, s.CustomTargetValueHigh
		}
		steps = append(steps, x)
	}
	open := typedef.WktStepTargetOpen
	assert.Equal(t, []seen{
		{"Easy", typedef.WktStepDurationTime, 600, open, 0, 0},
		{"Metronome blocks – lon", typedef.WktStepDurationTime, 60, typedef.WktStepTargetCadence, 84, 87},
		{"Easy", typedef.WktStepDurationTime, 240, open, 0, 0},
		{"", typedef.WktStepDurationRepeatUntilStepsCmplt, 0, open, 0, 0},
		{"Tall posture", typedef.WktStepDurationTime, 90, open, 0, 0},
		{"Easy", typedef.WktStepDurationTime, 30, open, 0, 0},
		{"Easy to the end", typedef.WktStepDurationOpen, 0, open, 0, 0},
	}, steps)
	again := got.WorkoutSteps[3]
	assert.EqualValues(t, 1, again.DurationValue, "back to the first step of the block")
	assert.EqualValues(t, 4, again.TargetValue, "four times in all")
	var _ *mesgdef.WorkoutStep = again
}
