package upgrade

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"io"
	"maps"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/account"
	"notchback/internal/api"
	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

// Every kept dump is restored as it was, brought up to date and opened.
func TestEveryKeptDumpUpgrades(t *testing.T) {
	files, err := filepath.Glob("testdata/*.sql.bz2")
	require.NoError(t, err)
	require.NotEmpty(t, files)
	total := map[string]int64{} // by release
	for _, file := range files {
		st, err := os.Stat(file)
		require.NoError(t, err)
		release, _, _ := strings.Cut(filepath.Base(file), "-")
		total[release] += st.Size()
		t.Run(strings.TrimSuffix(filepath.Base(file), ".sql.bz2"), func(t *testing.T) {
			var was record
			text, err := os.ReadFile(strings.TrimSuffix(file, ".sql.bz2") + ".json")
			require.NoError(t, err)
			require.NoError(t, json.Unmarshal(text, &was))
			require.NotEmpty(t, was.Runners)
			database, backups := testkit.Restore(t, file), t.TempDir()
			s := testkit.Upgrade(t, database, backups)
			is := look(t, s, database, was.Now)
			held(t, was, is)
			t.Run("pages", func(t *testing.T) { open(t, s, database, was) })
			t.Run("backup", func(t *testing.T) { backedUp(t, backups, was) })
		})
	}
	first := slices.MinFunc(slices.Collect(maps.Keys(total)), func(a, b string) int { // 2026.11.4 is before 2026.11.10
		return cmp.Or(len(a)-len(b), cmp.Compare(a, b))
	})
	for release, size := range total { // the first holds the club too, and both have to stay small
		most := int64(1 << 20)
		if release == first {
			most = 4 << 20
		}
		assert.Less(t, size, most, release)
	}
}

// held compares what a release said of its runners with what is said now: no row is lost, no lock
// opens, no dose gets harder.
func held(t *testing.T, was, is record) {
	for table, n := range was.Rows {
		assert.GreaterOrEqual(t, is.Rows[table], n, "rows of %s", table)
	}
	for _, w := range was.Runners {
		i := slices.IndexFunc(is.Runners, func(k keptRunner) bool { return k.Runner == w.Runner })
		if !assert.GreaterOrEqual(t, i, 0, "runner %s is gone", w.Runner) {
			continue
		}
		now := is.Runners[i]
		w = w.today()
		for _, stop := range w.Open {
			assert.Contains(t, now.Open, stop, "the lock of a warning sign opened")
		}
		for _, p := range now.InForce {
			k := slices.IndexFunc(w.InForce, func(x dosed) bool { return x.Rail == p.Rail && x.Side.Touches(p.Side) })
			if !assert.GreaterOrEqual(t, k, 0, "%s, %s came from nowhere", p.Rail, p.Side) {
				continue
			}
			if x := w.InForce[k]; x.Parked {
				assert.True(t, p.Parked, "%s, %s was parked", p.Rail, p.Side)
			}
			assert.True(t, slices.ContainsFunc(w.InForce, func(x dosed) bool {
				return x.Rail == p.Rail && x.Side.Touches(p.Side) && (p.Parked || !harder(p.Exercise, p.Dose, x.Exercise, x.Dose))
			}), "%s, %s got harder: %s %s", p.Rail, p.Side, p.Exercise, p.Dose)
		}
		for on, shown := range now.Days {
			for _, p := range shown {
				assert.True(t, slices.ContainsFunc(w.Days[on], func(x sum) bool {
					return x.Rail == p.Rail && x.Side.Touches(p.Side) && !harder(p.Exercise, p.Dose, x.Exercise, x.Dose)
				}), "on %s the runner is shown %s, %s, %s %s, which the release before did not", on, p.Rail, p.Side, p.Exercise, p.Dose)
			}
		}
	}
}

// today is the runner with every exercise on the rail it stands on now.
func (k keptRunner) today() keptRunner {
	k.InForce, k.Days = slices.Clone(k.InForce), maps.Clone(k.Days)
	for i, x := range k.InForce {
		k.InForce[i].Rail, k.InForce[i].Exercise = catalog.Shipped.Successor(x.Rail, x.Exercise)
	}
	for on, shown := range k.Days {
		shown = slices.Clone(shown)
		for i, x := range shown {
			shown[i].Rail, shown[i].Exercise = catalog.Shipped.Successor(x.Rail, x.Exercise)
		}
		k.Days[on] = shown
	}
	return k
}

// harder compares two doses of one exercise by their amount; another exercise counts as harder unless
// it stands earlier on its rail.
func harder(exercise string, d body.Dose, thanExercise string, than body.Dose) bool {
	if exercise == thanExercise {
		d.Extra, than.Extra = 0, 0
		return d.Kind != than.Kind || d.Work(0, 0) > than.Work(0, 0) || d.LoadKg > than.LoadKg
	}
	for _, r := range catalog.Shipped.Rails {
		at := func(id string) int {
			return slices.IndexFunc(r.Exercises, func(x catalog.Exercise) bool { return x.ID == id })
		}
		if at(exercise) >= 0 && at(thanExercise) >= 0 {
			return at(exercise) > at(thanExercise)
		}
	}
	return true
}

// open signs in and asks for every page of every runner, as the document of the API lists them.
func open(t *testing.T, s *store.Store, database string, was record) {
	doc, err := api.OpenAPI()
	require.NoError(t, err)
	var spec struct {
		Paths map[string]map[string]struct {
			Parameters []struct {
				Name     string `json:"name"`
				In       string `json:"in"`
				Required bool   `json:"required"`
			} `json:"parameters"`
		} `json:"paths"`
	}
	require.NoError(t, json.Unmarshal(doc, &spec))
	srv := httptest.NewServer(api.New(&room.Desk{Store: s, Patience: time.Minute, Now: func() time.Time { return was.Now }},
		api.Config{PublicURL: "https://nb.test"}))
	defer srv.Close()
	pages := 0
	for _, owner := range testkit.Practices(t, database) {
		require.NoError(t, s.In(context.Background(), owner.Practice, func(tx *store.Tx) error {
			_, err := tx.SetPassword(context.Background(), owner.Coach, account.Hash("a long enough password"))
			return err
		}))
		jar, _ := cookiejar.New(nil)
		browser := &http.Client{Jar: jar}
		sign, _ := json.Marshal(map[string]string{"email": owner.Email, "password": "a long enough password"})
		answer, err := browser.Post(srv.URL+"/api/session", "application/json", bytes.NewReader(sign))
		require.NoError(t, err)
		require.Equal(t, 200, answer.StatusCode)
		get := func(path string) []byte {
			a, err := browser.Get(srv.URL + path)
			require.NoError(t, err)
			text, _ := io.ReadAll(a.Body)
			_ = a.Body.Close()
			assert.Equal(t, 200, a.StatusCode, "%s: %.300s", path, text)
			pages++
			return text
		}
		for path, ways := range spec.Paths {
			way, ok := ways["get"]
			if !ok || strings.HasPrefix(path, "/api/phone") || path == "/api/inclinometer" || strings.Contains(path, "{still}") ||
				strings.Contains(path, "{import}") || strings.Contains(path, "{phone}") || strings.Contains(path, "/workouts/") {
				continue
			}
			if slices.ContainsFunc(way.Parameters, func(p struct {
				Name     string `json:"name"`
				In       string `json:"in"`
				Required bool   `json:"required"`
			}) bool {
				return p.In == "query" && p.Required
			}) {
				continue
			}
			if !strings.Contains(path, "{") {
				get(path)
				continue
			}
			for _, k := range was.Runners {
				if k.Practice != owner.Practice || (len(k.InForce) == 0 &&
					(strings.Contains(path, "hand-out") || strings.Contains(path, "calendar") || strings.Contains(path, "doses"))) {
					continue
				}
				for _, at := range addresses(t, path, k.Runner, get) {
					get(at)
				}
			}
		}
	}
	assert.Greater(t, pages, 10*len(was.Runners), "every page of every runner")
}

// addresses are those a path has for a runner: a rail stands for all, each kept clip for itself.
func addresses(t *testing.T, path, runner string, get func(string) []byte) []string {
	at := strings.NewReplacer("{runner}", runner, "{rail}", "calf_straight", "{day}", "2026-01-05").Replace(path)
	if !strings.Contains(at, "{clip}") {
		return []string{at}
	}
	var v room.Gait
	require.NoError(t, json.Unmarshal(get("/api/runners/"+runner+"/gait"), &v))
	out := []string{}
	for _, c := range v.Clips {
		out = append(out, strings.ReplaceAll(at, "{clip}", c.ID))
	}
	return out
}

// backedUp restores the backup that was taken before the records were migrated: nothing is missing in
// it. A database whose schema was current needs none.
func backedUp(t *testing.T, backups string, was record) {
	files, err := filepath.Glob(filepath.Join(backups, "*.dump"))
	require.NoError(t, err)
	if len(files) == 0 {
		assert.Equal(t, newestSchema, was.Rows["goose_db_version"]-1, "records were migrated without a backup")
		return
	}
	assert.Equal(t, was.Rows, testkit.Rows(t, testkit.Restore(t, files[0])))
}

var newestSchema = func() int {
	files, _ := filepath.Glob("../store/migrations/*.sql")
	return len(files)
}()
