package upgrade

import (
	"context"
	"encoding/json"
	"flag"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/demo"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

var keep = flag.String("keep", "", "make the dumps of this release under this name, such as the engine's version")

// record is what a release says of its own dump, so that the next ones can be held to it.
type record struct {
	Now     time.Time      `json:"now"`
	Runners []keptRunner   `json:"runners"`
	Rows    map[string]int `json:"rows" doc:"by table"`
}

type keptRunner struct {
	Practice string              `json:"practice"`
	Coach    string              `json:"coach"`
	Runner   string              `json:"runner"`
	Open     []string            `json:"open" doc:"ids of the stops that lock"`
	InForce  []dosed             `json:"inForce"`
	Days     map[body.Date][]sum `json:"days" doc:"what the runner is shown, today and the six days after"`
}

type dosed struct {
	Rail     string    `json:"rail"`
	Side     body.Side `json:"side"`
	Exercise string    `json:"exercise"`
	Dose     body.Dose `json:"dose"`
	Parked   bool      `json:"parked"`
}

type sum struct {
	Rail     string    `json:"rail"`
	Side     body.Side `json:"side"`
	Exercise string    `json:"exercise"`
	Dose     body.Dose `json:"dose"`
}

func seen(p catalog.Prescription) sum { return sum{p.Rail, p.Side, p.Exercise, p.Dose} }

// look reads what the release of today says of every runner of a database.
func look(t *testing.T, s *store.Store, database string, now time.Time) record {
	t.Helper()
	ctx := context.Background()
	r := record{Now: now, Rows: testkit.Rows(t, database)}
	desk := &room.Desk{Store: s, Patience: time.Minute, Now: func() time.Time { return now }}
	for _, p := range testkit.Practices(t, database) {
		for _, archived := range []bool{false, true} {
			all, err := desk.All(ctx, room.Actor{Practice: p.Practice, Coach: p.Coach}, archived)
			require.NoError(t, err)
			for _, o := range all {
				k := keptRunner{Practice: p.Practice, Coach: p.Coach, Runner: o.ID, Days: map[body.Date][]sum{}}
				for _, x := range o.Stops {
					if x.Open() {
						k.Open = append(k.Open, x.ID)
					}
				}
				for _, x := range o.Prescriptions {
					k.InForce = append(k.InForce, dosed{x.Rail, x.Side, x.Exercise, x.Dose, x.Parked})
				}
				for i := range 7 {
					for _, x := range o.Shown(o.Today.Add(i)) {
						k.Days[o.Today.Add(i)] = append(k.Days[o.Today.Add(i)], seen(x))
					}
				}
				r.Runners = append(r.Runners, k)
			}
		}
	}
	return r
}

// TestKeep makes the dumps of this release; without -keep there is nothing to make.
func TestKeep(t *testing.T) {
	if *keep == "" {
		t.Log("nothing to keep: ./notchback keep NAME makes the dumps of a release that changed stored data")
		return
	}
	now := time.Now().UTC().Truncate(time.Second)
	write := func(name, database string, s *store.Store) {
		file := filepath.Join("testdata", *keep+"-"+name)
		testkit.Dump(t, database, file+".sql.bz2")
		text, err := json.Marshal(look(t, s, database, now))
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(file+".json", append(text, '\n'), 0o644))
	}
	s := testkit.Store(t)
	_, err := demo.Load(context.Background(), &room.Desk{Store: s, Patience: time.Minute, Now: func() time.Time { return now }})
	require.NoError(t, err)
	write("demo", testkit.LastDatabase(), s)
	d := testkit.NewDesk(t, "coach@kept.example")
	made(t, d)
	write("practice", testkit.LastDatabase(), d.Store)
}
