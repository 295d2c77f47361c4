package demo

import (
	"context"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/refer"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

// TestTheClubAgreesWithTheRules loads the club and holds it against the core.
func TestTheClubAgreesWithTheRules(t *testing.T) {
	ctx := context.Background()
	desk := &room.Desk{Store: testkit.Store(t), Now: time.Now, Patience: time.Minute}
	loaded, err := Load(ctx, desk)
	require.NoError(t, err)
	assert.True(t, loaded)
	again, err := Load(ctx, desk)
	require.NoError(t, err)
	assert.False(t, again, "loading again is the same club")

	acc, err := desk.Store.Account(ctx, Email)
	require.NoError(t, err)
	a := room.Actor{Practice: acc.Practice, Coach: acc.ID}
	rs, err := desk.All(ctx, a, false)
	require.NoError(t, err)
	require.Len(t, rs, len(members))
	assert.GreaterOrEqual(t, len(members), 12)

	t.Run("today's queue shows every kind of work", func(t *testing.T) {
		kinds := map[string]int{}
		lines, err := desk.Today(ctx, a)
		require.NoError(t, err)
		for _, q := range lines {
			kinds[string(q.Kind)]++
			assert.NotEmpty(t, q.Sentence)
			assert.NotEmpty(t, q.Reason.Saw, q.Sentence)
		}
		for _, k := range []string{"stop", "park", "back", "up", "quiet", "retest", "start"} {
			assert.NotZero(t, kinds[k], k)
		}
	})
	t.Run("every decision replays", func(t *testing.T) {
		n := 0
		require.NoError(t, desk.Store.In(ctx, a.Practice, func(tx *store.Tx) error {
			for _, o := range rs {
				for _, d := range o.Decisions {
					if d.Coach == "" {
						continue // a hold that needed none keeps its reasons only
					}
					r, err := tx.Replay(ctx, d.ID)
					require.NoError(t, err)
					assert.Equal(t, r.Verdict, adjust.Propose(r.Inputs).Verdict, "%s, %s", o.Name, d.ID)
					n++
				}
			}
			return nil
		}))
		assert.Greater(t, n, 40)
	})
	t.Run("nobody holds a dose beyond kit, cautions or locks", func(t *testing.T) {
		for _, o := range rs {
			for _, p := range o.Prescriptions {
				rail, ok := o.Catalogue.Find(p.Rail)
				require.True(t, ok)
				x, ok := rail.Exercise(p.Exercise)
				require.True(t, ok)
				last := x.Ladder[len(x.Ladder)-1]
				assert.LessOrEqual(t, p.Dose.Sets, max(last.Sets, 5), "%s: %s", o.Name, p.Text())
				for _, s := range o.Phone(time.Now()).Sessions {
					for _, i := range s.Items {
						of, _ := o.Catalogue.Find(i.Rail)
						for _, side := range i.Sides {
							for _, leg := range i.Exercise.Legs(side.Side) {
								allowed, why := o.AdjustInput(catalog.Prescription{Rail: i.Rail, Side: leg, Exercise: i.Exercise.ID}).Limits.Reach(of,
									i.Exercise.ID, i.Exercise.Ladder[0]).Allowed(of, i.Exercise)
								assert.True(t, allowed, "%s: %s %s", o.Name, i.Name, why)
							}
							for _, s := range o.Stops {
								sign, _ := refer.FindSign(s.Sign)
								locked := s.Open() && sign.Class != refer.Small && sign.Class != refer.Pattern &&
									slices.ContainsFunc(i.Exercise.Legs(side.Side), s.Touches)
								assert.False(t, locked, "%s: %s is locked", o.Name, i.Name)
							}
						}
					}
				}
			}
		}
	})
	t.Run("heavy calf work keeps its gaps", func(t *testing.T) {
		for _, o := range rs {
			quality := map[int]bool{}
			for _, r := range o.Profile.Runs {
				quality[r.Weekday] = r.Quality == "quality"
			}
			last := body.Date("")
			for _, d := range o.Days {
				if rail, _ := o.Catalogue.Find(d.Rail); !rail.Calf() || d.On == last {
					continue
				}
				wd := d.On.Sub(d.On.Monday())
				assert.False(t, quality[wd] || quality[(wd+1)%7], "%s on %s", o.Name, d.On.Short())
				assert.True(t, last == "" || d.On.Sub(last) >= 2, "%s on %s after %s", o.Name, d.On, last)
				last = d.On
			}
		}
	})
	t.Run("four months of history, relative to today", func(t *testing.T) {
		first := body.DateOf(time.Now())
		for _, o := range rs {
			for _, s := range o.Screens {
				first = min(first, s.On)
			}
			for _, l := range o.Logs {
				assert.Less(t, l.On, o.Today)
			}
		}
		assert.GreaterOrEqual(t, body.DateOf(time.Now()).Sub(first), 110)
	})
	t.Run("enough repeat pairs for the practice's own error", func(t *testing.T) {
		a, err := desk.Store.Account(ctx, Email)
		require.NoError(t, err)
		ts, err := desk.Typical(ctx, room.Actor{Practice: a.Practice, Coach: a.ID})
		require.NoError(t, err)
		require.NotEmpty(t, ts)
		assert.Equal(t, "ankle.knee_to_wall", ts[0].Measure)
		assert.True(t, ts[0].Enough, "%d pairs", ts[0].Pairs)
		assert.Greater(t, ts[0].Error, 0.1)
	})
	t.Run("every room has something to show", func(t *testing.T) {
		var patterns, chains, forms, sessions int
		for _, o := range rs {
			r := o.Read()
			patterns, chains, forms, sessions = patterns+len(r.Patterns), chains+len(r.Chain), forms+len(o.Forms), sessions+len(o.Retests().Sessions)
		}
		assert.Positive(t, patterns)
		assert.Positive(t, chains)
		assert.Positive(t, forms)
		assert.Positive(t, sessions)
	})
	t.Run("made-up people only", func(t *testing.T) {
		assert.True(t, strings.HasSuffix(Email, ".example"))
	})
}
