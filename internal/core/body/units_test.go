package body

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func ExampleUnits_Words() {
	text := "3 × 8 with " + In("kg", "%g", 10) + ", " + In("cm", "%.1f", 12.5) + " from the wall"
	fmt.Println(Units{}.Words(text))
	fmt.Println(Units{Length: "in", Mass: "lb"}.Words(text))
	fmt.Println(Units{Distance: "mi"}.Words(In("km", "%.1f", 42.195) + " in " + In("km/h", "%g", 12)))
	// Output:
	// 3 × 8 with 10 kg, 12.5 cm from the wall
	// 3 × 8 with 22 lb, 4.92 in from the wall
	// 26.2 mi in 7.5 mph
}

// NIST SP 811 (2008), appendix B.8: 1 in = 2.54 cm, 1 lb = 0.45359237 kg, 1 mi = 1.609344 km, all exact.
func TestUnitsAgainstThePublishedFactors(t *testing.T) {
	other := Units{Length: "in", Mass: "lb", Distance: "mi"}
	for text, want := range map[string]string{
		In("cm", "%.3f", 254): "100 in", In("kg", "%.6f", 45.359237): "100 lb", In("km", "%.6f", 160.9344): "100 mi",
		In("km/h", "%.4f", 16.09344): "10 mph", Bare("cm", "%g", 5) + " × " + In("cm", "%g", 5): "2 × 2 in",
		In("mm", "%g", 12): "12 mm", In("cm", "%+.1f", -2.5): "-0.98 in", In("kg", "%g", 0): "0 lb",
		In("cm", "%.1f", 10.16) + " of " + Short("cm", 10.16, 1): "4 in of 4", // what was typed as 4, not 10.2 / 2.54
	} {
		assert.Equal(t, want, other.Words(text), "%q", text)
	}
	assert.Error(t, Units{Mass: "stone"}.Check())
	assert.NoError(t, other.Check())
	assert.NoError(t, Units{}.Check())
}

// A text is read back whole whatever stands around its figures, and nothing that a person typed is turned into another
// unit: not "9 kg" without marks, and not marks that somebody pasted around words.
func TestPropertyOnlyWhatIsMarkedIsTurned(t *testing.T) {
	typed := rapid.OneOf(rapid.StringMatching(`[a-z0-9 ,.–%°]{0,12}`), rapid.SampledFrom([]string{"9 kg", "4 cm and 2 km", mark, silent,
		mark + "cold" + mark, "12 km/h", "½ kg", "\xff"}))
	rapid.Check(t, func(t *rapid.T) {
		kg := float64(rapid.IntRange(0, 4000).Draw(t, "kg")) / 4
		before, after := typed.Draw(t, "before"), typed.Draw(t, "after")
		text := before + " " + In("kg", "%g", kg) + " " + after
		pounds := Units{Mass: "lb"}.Words(text)
		assert.True(t, strings.HasPrefix(pounds, before+" ") && strings.HasSuffix(pounds, " "+after), "%q became %q", text, pounds)
		var n float64
		figure := strings.TrimSuffix(strings.TrimPrefix(pounds, before+" "), " "+after)
		_, err := fmt.Sscanf(figure, "%g lb", &n)
		assert.NoError(t, err, figure)
		assert.InDelta(t, kg/0.45359237, n, 0.051)
		assert.Equal(t, before+" "+fmt.Sprintf("%g kg", kg)+" "+after, Plain(text))
	})
}

// A dose is read back from its own words, marked or not.
func TestADoseIsReadBackFromMarkedWords(t *testing.T) {
	d := Dose{Kind: Repetitions, Sets: 2, Reps: 8, Seconds: 2, LoadKg: 4.5, PerDay: 2}
	for _, text := range []string{d.String(), Plain(d.String())} {
		back, err := ParseDose(text)
		assert.NoError(t, err)
		assert.Equal(t, d, back)
	}
}
