package steps

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Each fact by itself, and what it does to the steps: the table a coach would draw.
func TestHowStepsStand(t *testing.T) {
	said := func(f Facts) string {
		out := ""
		for _, s := range Of(f) {
			out += string(s.ID) + " " + s.State + " " + s.Word + "; "
		}
		return out
	}
	const rest = "; gait open ; read open ; build open ; week open ; load open ; adjust open ; barefoot open ; retest open ; "
	assert.Equal(t, "intake done ; screen open "+rest, said(Facts{}))
	assert.Equal(t, "intake due form to read; screen open "+rest, said(Facts{Form: true}))
	assert.Equal(t, "intake due warning sign; screen open "+rest, said(Facts{Form: true, Locked: true}), "the sign comes before the form")
	assert.Equal(t, "intake done ; screen due begun"+rest, said(Facts{Screening: true}))
	assert.Equal(t, "intake done ; screen done ; gait open ; read open ; build due next; week open ; load open ; adjust open ; "+
		"barefoot open ; retest open ; ",
		said(Facts{Screened: true}))
	assert.Equal(t, "intake done ; screen done ; gait done ; read done ; build done ; week done ; load done ; adjust due to decide; "+
		"barefoot open ; retest due due; ",
		said(Facts{Screened: true, Again: true, Gait: true, Built: true, Decide: true, Due: true}))
	assert.Equal(t, "intake done ; screen done ; gait open ; read done ; build done ; week done ; load done ; adjust open ; "+
		"barefoot open ; retest done ; ",
		said(Facts{Screened: true, Again: true, Built: true}))
	assert.Contains(t, said(Facts{Built: true, High: true}), "load due high;")
	assert.Contains(t, said(Facts{Built: true, Untold: true}), "load due not told;")
	assert.Contains(t, said(Facts{Untold: true}), "load open ;", "nobody is asked before there is a programme")
	assert.Contains(t, said(Facts{Turn: true}), "barefoot due to decide;")
	assert.Equal(t, []ID{"intake", "screen", "gait", "read", "build", "week", "load", "adjust", "barefoot", "retest"}, IDs())
}
