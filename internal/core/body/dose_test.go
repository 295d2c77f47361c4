package body

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func ExampleParseDose() {
	d, _ := ParseDose("3 x 8 with 4 kg")
	fmt.Println(Plain(d.String()), d.Unit(), d.Work(1, 70))
	d, _ = ParseDose("3 × 15, twice a day")
	fmt.Println(d, d.Work(0, 0))
	_, err := ParseDose("3 times 8")
	fmt.Println(err.Error()[:29])
	// Output:
	// 3 × 8 with 4 kg repetitions 1776
	// 3 × 15, twice a day 90
	// “3 times 8” is not a dose
}

func TestParseDose(t *testing.T) {
	for text, want := range map[string]Dose{
		"3 × 10":                            {Kind: Repetitions, Sets: 3, Reps: 10},
		"3*10":                              {Kind: Repetitions, Sets: 3, Reps: 10},
		" 2 x 8 ,  2 s hold":                {},
		"2 × 8, 2 s hold":                   {Kind: Repetitions, Sets: 2, Reps: 8, Seconds: 2},
		"3 × 30 s":                          {Kind: Hold, Sets: 3, Seconds: 30},
		"2 × 60 s to fatigue":               {Kind: Effort, Sets: 2, Seconds: 60},
		"1 round of 20 s press, 20 s lift":  {Kind: Ramp, Sets: 1, Seconds: 20},
		"3 rounds of 10 s press, 10 s lift": {Kind: Ramp, Sets: 3, Seconds: 10},
		"4 × 8 at 8 RM":                     {Kind: RMLoad, Sets: 4, Reps: 8},
		"4 × 8 at 6 RM":                     {},
		"2 × 20 paces":                      {Kind: Paces, Sets: 2, Reps: 20},
		"3 × 20 contacts":                   {Kind: Contacts, Sets: 3, Reps: 20},
		"1 spot × 60 s":                     {Kind: Release, Sets: 1, Seconds: 60},
		"60 s in all":                       {Kind: Gathered, Sets: 1, Seconds: 60},
		"5 min":                             {Kind: Minutes, Sets: 1, Seconds: 300},
		"2 min 30 s":                        {Kind: Minutes, Sets: 1, Seconds: 150},
		"30 s on end":                       {Kind: Minutes, Sets: 1, Seconds: 30},
		"2 × 10 min":                        {Kind: Minutes, Sets: 2, Seconds: 600},
		"4 × 1 min, 4 min between":          {Kind: Blocks, Sets: 4, Seconds: 60, OffS: 240},
		"4 × 1 min, 4 min between at 168 a minute": {Kind: Blocks, Sets: 4, Seconds: 60, OffS: 240, Spm: 168},
		"2 × 10 with the medium band":              {Kind: Repetitions, Sets: 2, Reps: 10, Band: "medium"},
		"1 × 20 s, 3 times a day":                  {Kind: Hold, Sets: 1, Seconds: 20, PerDay: 3},
		"2 × 8 with 2.5 kg":                        {Kind: Repetitions, Sets: 2, Reps: 8, LoadKg: 2.5},
		"0 × 8":                                    {},
		"3 × 0 s":                                  {},
		"99 × 8":                                   {},
		"-3 × 8":                                   {},
		"3 × 8 with 900 kg":                        {},
		"":                                         {},
		"many":                                     {},
	} {
		d, err := ParseDose(text)
		if want.Kind == "" {
			assert.Error(t, err, text)
			continue
		}
		require.NoError(t, err, text)
		assert.Equal(t, want, d, text)
	}
}

// Any dose that can be is read back exactly as it was written.
func TestPropertyADoseIsReadBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := Dose{Kind: rapid.SampledFrom(DoseKinds).Draw(t, "kind"), Sets: rapid.IntRange(1, 30).Draw(t, "sets")}
		n := rapid.IntRange(1, 600).Draw(t, "amount")
		d = d.WithAmount(n)
		switch d.Kind {
		case Blocks:
			d.OffS = rapid.IntRange(1, 600).Draw(t, "off")
			d.Spm = rapid.SampledFrom([]int{0, 168}).Draw(t, "spm")
		case Ramp:
			d.StackMm = rapid.SampledFrom([]float64{0, 20, 12.5}).Draw(t, "stack")
		case Hold, Minutes:
			d.Hands = rapid.SampledFrom(append([]string{""}, HandShares...)).Draw(t, "hands")
		case RMLoad:
			d.LoadKg = rapid.SampledFrom([]float64{0, 4, 12.5}).Draw(t, "kg")
		case Repetitions:
			d.WallCm = rapid.SampledFrom([]float64{0, 7, 9.5}).Draw(t, "wall")
			d.Seconds = rapid.SampledFrom([]int{0, 0, 5}).Draw(t, "hold")
			d.LoadKg = rapid.SampledFrom([]float64{0, 4, 12.5}).Draw(t, "kg")
			if d.LoadKg == 0 {
				d.Band = rapid.SampledFrom([]string{"", "light", "strong"}).Draw(t, "band")
			}
		}
		d.PerDay = rapid.SampledFrom([]int{0, 2, 5}).Draw(t, "per day")
		back, err := ParseDose(d.String())
		if err != nil || back != d {
			t.Fatalf("%q came back as %+v: %v", d, back, err)
		}
	})
}

func FuzzParseDose(f *testing.F) {
	for _, s := range []string{"3 × 10", "4 × 1 min, 4 min between", "9999999999999999999 × 1", "1 x 1 x 1"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		d, err := ParseDose(s)
		if err == nil {
			back, err := ParseDose(d.String())
			require.NoError(t, err)
			require.Equal(t, d, back)
		}
	})
}
