package api

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"net/http"
	"reflect"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	lru "github.com/hashicorp/golang-lru/v2"
	"github.com/klauspost/compress/gzip"

	"notchback/internal/core/body"
)

// answer is a body that many ask for, encoded and compressed once.
type answer struct {
	etag         string
	plain, small []byte
}

func newAnswer(v any, in body.Units) (answer, error) {
	var plain, small bytes.Buffer
	if err := inUnits.Marshal(&plain, read{v, in}); err != nil {
		return answer{}, fmt.Errorf("encoding: %w", err)
	}
	z, err := gzip.NewWriterLevel(&small, gzip.BestCompression)
	if err == nil {
		_, err = z.Write(plain.Bytes())
	}
	if err == nil {
		err = z.Close()
	}
	if err != nil {
		return answer{}, fmt.Errorf("compressing: %w", err)
	}
	sum := sha256.Sum256(plain.Bytes())
	return answer{`W/"` + hex.EncodeToString(sum[:12]) + `"`, plain.Bytes(), small.Bytes()}, nil // weak: compressed or not
}

// write sends it, or says that the browser holds it already.
func (a answer) write(ctx huma.Context) {
	ctx.SetHeader("ETag", a.etag)
	ctx.SetHeader("Cache-Control", "private, no-cache") // kept by the browser, asked for each time
	ctx.SetHeader("Vary", "Accept-Encoding")
	if strings.Contains(ctx.Header("If-None-Match"), a.etag) {
		ctx.SetStatus(http.StatusNotModified)
		return
	}
	ctx.SetHeader("Content-Type", "application/json")
	body := a.plain
	if strings.Contains(ctx.Header("Accept-Encoding"), "gzip") {
		ctx.SetHeader("Content-Encoding", "gzip")
		body = a.small
	}
	ctx.SetStatus(http.StatusOK)
	_, _ = ctx.BodyWriter().Write(body)
}

// answers are the last that were made, by what they were made from.
type answers struct{ kept *lru.Cache[string, answer] }

func newAnswers() answers {
	kept, err := lru.New[string, answer](64)
	if err != nil {
		panic(err) // only a size below one
	}
	return answers{kept}
}

// doSame registers a question of a signed-in coach whose answer is made of nothing but its key and the units it is read in; f gives the
// key, and what makes the answer.
func doSame[O any](s *server, path, id, summary string, f func(context.Context) (key string, body func() O, err error)) {
	made := newAnswers()
	huma.Register(s.huma, huma.Operation{OperationID: id, Method: http.MethodGet, Path: path, Summary: summary,
		Middlewares: huma.Middlewares{s.signedIn}, Responses: map[string]*huma.Response{"200": {Description: "OK",
			Content: map[string]*huma.MediaType{"application/json": {
				Schema: s.huma.OpenAPI().Components.Schemas.Schema(reflect.TypeFor[O](), true, id)}}}}},
		func(ctx context.Context, _ *struct{}) (*huma.StreamResponse, error) {
			key, body, err := f(ctx)
			in := reader(ctx)
			key += fmt.Sprint(in)
			if err != nil {
				return nil, s.failed(ctx, err)
			}
			a, done := made.kept.Get(key)
			if !done {
				if a, err = newAnswer(body(), in); err != nil {
					return nil, s.failed(ctx, err)
				}
				made.kept.Add(key, a)
			}
			return &huma.StreamResponse{Body: a.write}, nil
		})
}
