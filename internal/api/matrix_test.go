package api_test

import (
	"bytes"
	"io"
	"math/rand/v2"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/store"
	"notchback/internal/testkit"
)

// door is somebody before the server.
type door struct {
	name  string
	http  *http.Client
	token string
}

// ask sends a request of an operation as they would.
func (d door) ask(t *testing.T, address string, op operation, text []byte) (int, string) {
	t.Helper()
	req, err := http.NewRequest(op.method, address, bytes.NewReader(text))
	require.NoError(t, err)
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("Sec-Fetch-Site", "same-origin")
	if d.token != "" {
		req.Header.Set("Authorization", "Bearer "+d.token)
	}
	a, err := d.http.Do(req)
	require.NoError(t, err)
	defer a.Body.Close()
	said, _ := io.ReadAll(a.Body)
	return a.StatusCode, string(said)
}

// may says who gets an answer at all, apart from the code: strangers nowhere but at the door, phones under /api/phone, coaches
// elsewhere, and what changes colleagues only an owner. Of another practice's runner nobody does.
func may(who string, op operation) bool {
	phone := strings.HasPrefix(op.path, "/api/phone")
	ofOne := strings.Contains(op.path, "{runner}") || strings.Contains(op.path, "{coach}")
	switch who {
	case "phone":
		return phone
	case "owner":
		return !phone
	case "coach":
		return !phone && !(strings.HasPrefix(op.path, "/api/coaches") && op.method != "GET") && op.path != "/api/audit"
	case "other practice":
		return !phone && !ofOne
	}
	return false
}

// Every route, for everybody: no 2xx where none belongs, and the answer says why.
func TestWhoGetsInWhere(t *testing.T) {
	d, srv := server(t)
	runner := d.Runner(t, testkit.Profile())
	colleague := second(t, d, "second@test.example")
	elsewhere, owner, err := d.Store.CreatePractice(ctx, "Elsewhere", "Other Coach", "other@test.example")
	require.NoError(t, err)
	give(t, d.Store, elsewhere, owner)
	link := func(ends time.Duration) string {
		token := store.NewToken()
		require.NoError(t, d.Store.In(ctx, d.Actor.Practice, func(tx *store.Tx) error {
			return tx.AddLink(ctx, runner, store.NewID(), store.Hash(token), time.Now().Add(ends))
		}))
		return token
	}
	opened := func(ends bool) *http.Client {
		phone, device := openOn(t, srv.URL, map[string]any{"token": link(time.Hour)})
		if ends {
			require.NoError(t, d.Store.In(ctx, d.Actor.Practice, func(tx *store.Tx) error { return tx.EndDevice(ctx, runner, device) }))
		}
		return phone.http
	}
	doors := []door{{"phone", opened(false), ""}, {"ended device", opened(true), ""}, {"stranger", open(t, srv.URL).http, ""},
		{"phone", open(t, srv.URL).http, link(time.Hour)},
		{"ended phone", open(t, srv.URL).http, link(-time.Hour)}, {"other practice", signedIn(t, srv.URL, "other@test.example").http, ""},
		{"coach", signedIn(t, srv.URL, "second@test.example").http, ""}, {"owner", signedIn(t, srv.URL, email).http, ""}}
	doc, ops := operations(t)
	s := spoiler{rand.New(rand.NewPCG(1, 2)), doc, []string{runner}}
	atDoor := []string{"sign-in", "redeem-code", "open-link", "open-angle"} // open to whoever knows a secret
	leaves := []string{"sign-out", "sign-out-everywhere", "end-session", "inclinometer", "end-access", "archive", "set-role", "let-in-again",
		"set-second-factor"}
	reached := map[string]int{}
	for _, op := range ops {
		if slices.Contains(atDoor, op.OperationID) {
			continue
		}
		for _, who := range doors {
			if may(who.name, op) && slices.Contains(leaves, op.OperationID) {
				continue // they would be gone
			}
			for range 3 {
				address, text := s.request(op)
				address = strings.Replace(address, "/api/coaches/"+runner, "/api/coaches/"+colleague, 1)
				status, said := who.ask(t, srv.URL+address, op, text)
				if status < 300 {
					reached[who.name]++
					assert.True(t, may(who.name, op), "%s: %s %s answered %d", who.name, op.method, address, status)
				}
				if !may(who.name, op) {
					assert.Contains(t, []int{400, 401, 403, 404, 409, 422}, status, "%s: %s %s: %s", who.name, op.method, address, said)
				}
			}
		}
	}
	t.Logf("answered: %v", reached)
	for _, who := range []string{"phone", "coach", "owner", "other practice"} {
		assert.Greater(t, reached[who], 5, who)
	}
	var touched int
	require.NoError(t, testkit.Admin(t, testkit.LastDatabase()).QueryRow(ctx, `SELECT count(*) FROM audit a JOIN coaches c ON c.id = a.coach_id
		WHERE a.runner_id = $1 AND c.practice_id <> a.practice_id OR a.practice_id = $2 AND a.runner_id IS NOT NULL`, runner,
		elsewhere).Scan(&touched))
	assert.Zero(t, touched, "nothing was noted of another practice's runner")
}
