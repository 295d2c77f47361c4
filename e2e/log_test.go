package e2e

import (
	"bytes"
	"context"
	"strings"
	"sync"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/store"
)

// heard is the log of one server, from several goroutines.
type heard struct {
	mu   sync.Mutex
	said bytes.Buffer
}

func (h *heard) Write(b []byte) (int, error) {
	h.mu.Lock()
	defer h.mu.Unlock()
	return h.said.Write(b)
}

func (h *heard) String() string {
	h.mu.Lock()
	defer h.mu.Unlock()
	return h.said.String()
}

// everybody is every name, address and note of a database; what is shorter than a word is left out.
const everybody = `SELECT name FROM runners UNION SELECT name FROM coaches UNION SELECT email FROM coaches UNION SELECT name FROM practices
	UNION SELECT who FROM clearances UNION SELECT limits FROM clearances UNION SELECT note FROM logs`

// named sees to it that the log of a whole browser test names nobody of its practice and holds no note, and that no request
// broke.
func (w *world) named() {
	if w.t.Failed() {
		return
	}
	ctx, log := context.Background(), w.log.String()
	var words []string
	require.NoError(w.t, w.desk.Store.In(ctx, w.desk.Actor.Practice, func(tx *store.Tx) error {
		rows, err := tx.Query(ctx, everybody)
		if err != nil {
			return err
		}
		words, err = pgx.CollectRows(rows, pgx.RowTo[string])
		return err
	}))
	require.NotEmpty(w.t, words)
	for _, x := range words {
		if len(x) >= 5 {
			assert.False(w.t, strings.Contains(log, x), "the log holds %q", x)
		}
	}
	assert.NotContains(w.t, log, `"msg":"panic"`)
}
