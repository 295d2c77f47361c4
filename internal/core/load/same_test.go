package load

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"notchback/internal/core/body"
)

// A run of 40 min at 07:00 beside one that is known: worked examples, common practice, no source.
func TestWhetherARunIsKnown(t *testing.T) {
	const on = body.Date("2026-03-10")
	timed := func(on body.Date, start string, minutes, elapsed float64) Run {
		return Run{On: on, Minutes: minutes, Details: Details{Start: start, Elapsed: elapsed}}
	}
	r := timed(on, "2026-03-10T07:00:00Z", 40, 42)
	for _, c := range []struct {
		known Run
		want  Twin
	}{
		{timed(on, "2026-03-10T07:02:00Z", 44, 44), Same}, {timed(on, "2026-03-10T07:02:01Z", 44, 44), Overlap},
		{timed(on, "2026-03-10T07:00:00Z", 45, 45), Overlap}, {timed(on, "2026-03-10T07:41:59Z", 20, 20), Overlap},
		{timed(on, "2026-03-10T07:42:00Z", 20, 20), New}, {timed(on, "2026-03-10T06:30:00Z", 20, 30), New},
		{timed(on, "2026-03-10T06:30:00Z", 20, 31), Overlap}, {timed(on.Add(-1), "2026-03-09T23:00:00Z", 40, 481), Overlap},
		{timed(on.Add(-2), "2026-03-10T07:00:00Z", 40, 42), New},
		{Run{On: on, Minutes: 44}, Same}, {Run{On: on, Minutes: 45}, Overlap}, {Run{On: on, Minutes: 50}, Overlap},
		{Run{On: on, Minutes: 51}, New}, {Run{On: on.Add(1), Minutes: 40}, New}, {Run{On: on, Word: AsUsual}, New},
	} {
		twin, why := Alike(r, map[body.Date][]Run{c.known.On: {c.known}})
		assert.Equal(t, c.want, twin, "%+v: %s", c.known, why)
		assert.Equal(t, twin == New, why == "", "what it is like is said")
	}
	short := timed(on, "2026-03-10T07:00:00Z", 10, 10)
	twin, _ := Alike(short, map[body.Date][]Run{on: {timed(on, "2026-03-10T07:00:00Z", 12, 12)}})
	assert.Equal(t, Same, twin, "never nearer than two minutes")
}

func TestTheWordsOfATable(t *testing.T) {
	for says, want := range map[string]Kind{"Long run": LongRun, "Race day": RaceRun, "hill repeats": HillRun, "Tempo": QualityRun,
		"Easy jog": EasyRun, "barefoot strides": BareRun, "": "", "Tuesday": ""} {
		assert.Equal(t, want, KindOf(says), says)
	}
	assert.Equal(t, [2]string{"treadmill", ""}, [2]string{SurfaceOf("Treadmill, gym"), SurfaceOf("moon")})
	assert.Equal(t, []ShoeKm{{"Grey", 15}, {"Blue", 4}}, InShoes([]Run{{Km: 10, Details: Details{Shoe: "Grey"}},
		{Km: 4, Details: Details{Shoe: "Blue"}}, {Km: 5, Details: Details{Shoe: "Grey"}}, {Km: 3}}))
}
