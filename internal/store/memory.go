package store

import (
	lru "github.com/hashicorp/golang-lru/v2"
	"github.com/jackc/pgx/v5/pgxpool"

	"notchback/internal/core/body"
	"notchback/internal/record"
)

// remembered is how many records a process remembers: some 60 MB of two years each.
const remembered = 100

// memory holds the parts of the records that were read last. A part is used again only while the runner's own row, read
// in the same snapshot, says that nothing of it was changed since: servers on one database need not know of each other.
// Only snapshots in which nothing is written fill it; a change of the tests, which holds the runner, may look into it.
// Nil remembers nothing.
type memory struct {
	records *lru.Cache[string, remembrance]
}

type remembrance struct {
	touched, tested int64 // when it was read
	since           body.Date
	record.Record   // without the person and the door
}

func newMemory() *memory {
	records, err := lru.New[string, remembrance](remembered)
	if err != nil {
		panic(err) // only a size below one
	}
	return &memory{records}
}

// of is what is still known of a runner. A trial of a screen changes the tests alone.
func (m *memory) of(p record.Person) (k remembrance) {
	k, _ = m.records.Get(p.ID)
	if k.touched-k.tested != p.Touched-p.Tested {
		return remembrance{}
	}
	if k.touched != p.Touched {
		k.Tests = nil
	}
	return k
}

// before gives the visits of a runner as they were before the change of them that raised the counts to these; nil where
// they are not known.
func (m *memory) before(runner string, touched, tested int64) *record.Tests {
	if m == nil {
		return nil
	}
	k, _ := m.records.Get(runner)
	if k.Tests == nil || k.touched != touched-1 || k.tested != tested-1 {
		return nil
	}
	return k.Only(record.NeedTests).Tests
}

// recall puts the parts that are remembered into a record whose person was read, and returns those to be read.
func (m *memory) recall(r *record.Record, since body.Date, need record.Need) (missing record.Need) {
	if m == nil {
		return need
	}
	k := m.of(r.Person)
	if k.since > since {
		k.Reports = nil
	}
	known := k.Parts() & need
	r.Take(k.Record.Only(known), since)
	return need &^ known
}

// keep remembers the parts of a record; reports that reach back to the day since.
func (m *memory) keep(r record.Record, since body.Date) {
	if m == nil {
		return
	}
	k := m.of(r.Person)
	if k.touched, k.tested = r.Touched, r.Tested; r.Reports != nil {
		k.since = since
	}
	k.Take(r.Only(r.Parts()&^record.NeedDoor), since)
	m.records.Add(r.ID, k)
}

// Forgetful has every record read anew.
func Forgetful() Option { return func(c *pgxpool.Config) { c.AfterConnect = nil } }
