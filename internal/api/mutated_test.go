package api_test

import (
	"bytes"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"notchback/internal/api"
	"notchback/internal/core/body"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

var (
	mutated = flag.Int("mutated", 2000, "spoilt requests to send")
	seed    = flag.Uint64("seed", 0, "of the spoilt requests; 0: a new one")
)

type schema struct {
	Ref        string            `json:"$ref"`
	Type       any               `json:"type"`
	Enum       []any             `json:"enum"`
	Properties map[string]schema `json:"properties"`
	Items      *schema           `json:"items"`
	Format     string            `json:"format"`
	Additional json.RawMessage   `json:"additionalProperties"`
}

type operation struct {
	OperationID string `json:"operationId"`
	Parameters  []struct {
		Name, In string
		Schema   schema
	} `json:"parameters"`
	RequestBody *struct {
		Content map[string]struct{ Schema schema } `json:"content"`
	} `json:"requestBody"`
	path, method string
}

// document is the API's own description.
type document struct {
	Paths      map[string]map[string]operation `json:"paths"`
	Components struct {
		Schemas map[string]schema `json:"schemas"`
	} `json:"components"`
}

func operations(t *testing.T) (document, []operation) {
	t.Helper()
	text, err := api.OpenAPI()
	require.NoError(t, err)
	var doc document
	require.NoError(t, json.Unmarshal(text, &doc))
	var out []operation
	for path, ways := range doc.Paths {
		for method, op := range ways {
			op.path, op.method = path, strings.ToUpper(method)
			out = append(out, op)
		}
	}
	slices.SortFunc(out, func(a, b operation) int { return strings.Compare(a.path+a.method, b.path+b.method) })
	return doc, out
}

// spoiler makes requests that look like honest ones and are spoilt here and there.
type spoiler struct {
	*rand.Rand
	doc document
	ids []string
}

// wild are values that no record should hold.
func (s spoiler) wild() any {
	return []any{nil, true, "", "\x00", "a\x00b", strings.Repeat("x", 300), strings.Repeat("ü", 5000), raw(`"\ud800"`), raw(`"\udc00\ud83d"`),
		raw(strings.Repeat("[", 3000) + strings.Repeat("]", 3000)), raw(`1e400`), raw(`9223372036854775808`), raw(`-9223372036854775809`),
		1e308, -1,
		0, 2147483648, 1e-320, 3.7, []any{}, map[string]any{}, []any{nil}, "2026-02-30", "0000-00-00", "9999-12-31", "not a day", "' OR 1=1 --",
		map[string]any{"a": map[string]any{"b": []any{1, "x"}}}, "\u2063" + "9 kg", raw(`"\u0000"`)}[s.IntN(30)]
}

// raw is JSON as it stands.
type raw string

// value draws one of a schema, now and then a wild one.
func (s spoiler) value(x schema, depth int) any {
	if s.IntN(14) == 0 {
		return s.wild()
	}
	if x.Ref != "" {
		return s.value(s.doc.Components.Schemas[x.Ref[strings.LastIndex(x.Ref, "/")+1:]], depth)
	}
	if len(x.Enum) > 0 {
		return x.Enum[s.IntN(len(x.Enum))]
	}
	kind, _ := x.Type.(string)
	if list, is := x.Type.([]any); is && len(list) > 0 {
		kind, _ = list[0].(string)
	}
	switch {
	case kind == "object" && depth < 7:
		out := map[string]any{}
		for name, p := range x.Properties {
			if s.IntN(8) > 0 {
				out[name] = s.value(p, depth+1)
			}
		}
		return out
	case kind == "array" && x.Items != nil && depth < 7:
		out := []any{}
		for range s.IntN(3) {
			out = append(out, s.value(*x.Items, depth+1))
		}
		return out
	case kind == "integer":
		return s.IntN(40) - 2
	case kind == "number":
		return float64(s.IntN(400)-10) / 4
	case kind == "boolean":
		return s.IntN(2) == 0
	case x.Format == "uuid":
		return s.ids[s.IntN(len(s.ids))]
	}
	return []any{"left", "both", string(body.DateOf(time.Now())), "calf", "note", "ankle.knee_to_wall", s.ids[0], "Gull"}[s.IntN(8)]
}

// write is JSON with what stands in it raw.
func write(v any) []byte {
	switch x := v.(type) {
	case raw:
		return []byte(x)
	case map[string]any:
		var out bytes.Buffer
		out.WriteByte('{')
		for name, y := range x {
			if out.Len() > 1 {
				out.WriteByte(',')
			}
			fmt.Fprintf(&out, "%q:%s", name, write(y))
		}
		out.WriteByte('}')
		return out.Bytes()
	case []any:
		var parts [][]byte
		for _, y := range x {
			parts = append(parts, write(y))
		}
		return slices.Concat([]byte{'['}, bytes.Join(parts, []byte{','}), []byte{']'})
	}
	text, _ := json.Marshal(v)
	return text
}

// request draws one of an operation.
func (s spoiler) request(op operation) (address string, text []byte) {
	address = op.path
	var query []string
	for _, p := range op.Parameters {
		odd := []string{"%00", "%ff", "..%2f", strings.Repeat("9", 400), "x%27y", "%F0%9F%A6%B6"}
		switch {
		case p.In == "path":
			with := fmt.Sprint(s.value(p.Schema, 9))
			if s.IntN(10) == 0 || strings.ContainsAny(with, " /?#%\x00[{<") {
				with = odd[s.IntN(len(odd))]
			}
			address = strings.Replace(address, "{"+p.Name+"}", with, 1)
		case p.In == "query" && s.IntN(3) > 0:
			with := fmt.Sprint(s.value(p.Schema, 9))
			if s.IntN(6) == 0 || strings.ContainsAny(with, " &?#%\x00[{<") {
				with = odd[s.IntN(len(odd))]
			}
			query = append(query, p.Name+"="+with)
		}
	}
	if len(query) > 0 {
		address += "?" + strings.Join(query, "&")
	}
	if op.RequestBody == nil {
		return address, nil
	}
	text = write(s.value(op.RequestBody.Content["application/json"].Schema, 0))
	if s.IntN(12) == 0 && len(text) > 2 { // cut off, or a byte turned
		if at := s.IntN(len(text)); s.IntN(2) == 0 {
			text = text[:at]
		} else {
			text[at] = byte(s.IntN(256))
		}
	}
	return address, text
}

// Nothing that a request holds breaks the server: no answer is of the 500s. -mutated and -seed send more of them again.
func TestMutatedRequestsAreAnswered(t *testing.T) {
	d, srv := server(t)
	runner := d.Runner(t, testkit.Profile())
	d.AskSigns(t, runner)
	visit := d.Screen(t, runner, map[string]float64{body.AnkleKneeToWall: 6, body.CalfRaisesStraight: 12})
	token := store.NewToken()
	require.NoError(t, d.Store.In(ctx, d.Actor.Practice, func(tx *store.Tx) error {
		return tx.AddLink(ctx, runner, store.NewID(), store.Hash(token), time.Now().Add(time.Hour))
	}))
	c := signedIn(t, srv.URL, email)
	doc, ops := operations(t)
	with := *seed
	if with == 0 {
		with = rand.Uint64()
	}
	t.Logf("go test ./internal/api -run Mutated -mutated %d -seed %d", *mutated, with)
	s := spoiler{rand.New(rand.NewPCG(with, 1)), doc, []string{runner, visit, runner, store.NewID()}}
	answers := map[int]int{}
	for i := range *mutated {
		op := ops[s.IntN(len(ops))]
		if slices.Contains([]string{"inclinometer", "sign-out", "sign-out-everywhere", "change-password", "end-access", "archive",
			"make-link", "new-link", "private-link", "end-link"}, op.OperationID) {
			continue
		}
		address, text := s.request(op)
		req, err := http.NewRequest(op.method, srv.URL+address, bytes.NewReader(text))
		if err != nil {
			continue
		}
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set("Sec-Fetch-Site", "same-origin")
		if strings.HasPrefix(op.path, "/api/phone") {
			req.Header.Set("Authorization", "Bearer "+token)
		}
		a, err := c.http.Do(req)
		require.NoError(t, err)
		said, _ := io.ReadAll(a.Body)
		_ = a.Body.Close()
		answers[a.StatusCode]++
		if a.StatusCode >= 500 {
			t.Errorf("seed %d, request %d: %s %s\n%.2000s\nanswered %d: %.500s", with, i, op.method, address, text, a.StatusCode, said)
		}
	}
	t.Logf("answers: %v", answers)
	if answers[200] < *mutated/50 {
		t.Errorf("hardly any request was honest enough to reach a record: %v", answers)
	}
}
