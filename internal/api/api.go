// Package api serves the practice over HTTP: typed input and output, errors as problem documents, an
// OpenAPI document from the code. A file per room; no rule lives here.
package api

import (
	"context"
	"errors"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"reflect"
	"runtime/debug"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-gonic/gin"

	"notchback/internal/account"
	"notchback/internal/core"
	"notchback/internal/core/body"
	"notchback/internal/core/gait"
	"notchback/internal/device"
	"notchback/internal/observe"
	"notchback/internal/record"
	"notchback/internal/room"
	"notchback/internal/store"
)

// Config is what the server needs besides the desk.
type Config struct {
	PublicURL    string              // as phones reach it; empty: as the request came in
	Secure       bool                // cookies only over HTTPS
	TrustedProxy string              // address of a proxy whose X-Forwarded-For is believed; empty: none
	Web          fs.FS               // built web pages
	Inclinometer device.Inclinometer // nil: none is there
	Films        device.Films        // simulated clips; nil: none
	Watch        device.Watch        // simulated; nil: none
	Log          *slog.Logger
	Patience     time.Duration    // how long a request may take; 0: 25 s
	Stopping     context.Context  // ends when the server stops: streams end with it; nil: never
	Metrics      *observe.Metrics // nil: nothing is measured
	Clock        func() time.Time // by which a session is idle; nil: the machine's
}

// Tune sets how memory is collected where pages are served: charts come and go in bursts, so the heap may grow fourfold
// between two collections, within a bound that a small machine has room for.
func Tune() {
	debug.SetGCPercent(400)
	debug.SetMemoryLimit(160 << 20)
}

const maxBody = 256 << 10 // bytes; the largest honest request is an intake of a few KB

type server struct {
	desk     *room.Desk
	cfg      Config
	sessions *scs.SessionManager
	huma     huma.API

	looks     looks
	phones    instruments
	summaries map[string]string // of operations, by id
}

// New returns the whole application as a handler.
func New(desk *room.Desk, cfg Config) http.Handler {
	s := assemble(desk, cfg)
	engine := gin.New()
	engine.RedirectTrailingSlash = false // an address without its last part would be another deed
	_ = engine.SetTrustedProxies(nil)
	if cfg.TrustedProxy != "" {
		_ = engine.SetTrustedProxies([]string{cfg.TrustedProxy})
	}
	engine.Use(routed, s.recover, headers(cfg.Secure))
	s.routes(engine)
	s.web(engine)
	return s.guard(engine)
}

// OpenAPI returns the API's document, as it is served.
func OpenAPI() ([]byte, error) {
	s := assemble(nil, Config{})
	engine := gin.New()
	s.routes(engine)
	return s.huma.OpenAPI().MarshalJSON()
}

func assemble(desk *room.Desk, cfg Config) *server {
	gin.SetMode(gin.ReleaseMode)
	if cfg.Log == nil {
		cfg.Log = slog.New(slog.DiscardHandler)
	}
	if cfg.Patience == 0 {
		cfg.Patience = 25 * time.Second
	}
	if cfg.Clock == nil {
		cfg.Clock = time.Now
	}
	s := &server{desk: desk, cfg: cfg, sessions: scs.New(), looks: newLooks(),
		phones: instruments{by: map[string]*paired{}}}
	if desk != nil {
		s.sessions.Store = store.Sessions{S: desk.Store}
	}
	s.sessions.Lifetime = 14 * 24 * time.Hour // how long it may be idle is judged by seen
	s.sessions.Cookie.Name = "notchback"
	s.sessions.Cookie.HttpOnly = true
	s.sessions.Cookie.SameSite = http.SameSiteLaxMode
	s.sessions.Cookie.Secure = cfg.Secure
	s.sessions.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		cfg.Log.Error("session", "id", askedIn(r.Context()).id, "err", err)
		problem(w, http.StatusServiceUnavailable, "The database does not answer. Nothing was lost; try again in a moment.")
	}
	return s
}

func (s *server) routes(engine *gin.Engine) {
	huma.DefaultArrayNullable = false
	cfg := huma.DefaultConfig("Notchback", core.EngineVersion)
	cfg.OpenAPIPath = "/api/openapi"
	cfg.DocsPath = ""
	cfg.SchemasPath = ""
	cfg.CreateHooks = nil // no $schema links in bodies
	cfg.Formats = map[string]huma.Format{"application/json": inUnits, "json": inUnits}
	cfg.Transformers = append(cfg.Transformers, forReader)
	cfg.Components.Schemas = huma.NewMapRegistry("#/components/schemas/", schemaName)
	for _, describe := range enumerated {
		describe(cfg)
	}
	alias[record.Kept[gait.Clip], gait.Clip](cfg)
	alias[record.Kept[gait.Shot], gait.Shot](cfg)
	alias[record.Kept[[]store.KeptFigure], []store.KeptFigure](cfg)
	s.huma = humagin.New(engine, cfg)
	s.accounts()
	s.units()
	s.roster()
	s.screens()
	s.angles()
	s.gait()
	s.programme()
	s.week()
	s.library()
	s.handouts()
	s.load()
	s.adjusting()
	s.barefoot()
	s.notes()
	s.selfchecks()
	s.phone()
	s.house()
	s.summarize()
	engine.GET("/films/:name", s.film) // made up: nobody is on it
	engine.GET("/healthz", func(c *gin.Context) { c.String(http.StatusOK, "ok") })
	engine.GET("/readyz", func(c *gin.Context) {
		if err := s.desk.Store.Ready(c); err != nil {
			problem(c.Writer, http.StatusServiceUnavailable, "The database does not answer.")
			return
		}
		c.String(http.StatusOK, "ok")
	})
}

// alias describes one type as another that it is sent as.
func alias[Sent, As any](cfg huma.Config) {
	cfg.Components.Schemas.RegisterTypeAlias(reflect.TypeFor[Sent](), reflect.TypeFor[As]())
}

// schemaName puts the room before a core or store type's name, so that two rooms may use one word.
func schemaName(t reflect.Type, hint string) string {
	name := huma.DefaultSchemaNamer(t, hint)
	for t.Kind() == reflect.Pointer || t.Kind() == reflect.Slice {
		t = t.Elem()
	}
	if p := t.PkgPath(); strings.HasPrefix(p, "notchback/internal/core/") || strings.HasSuffix(p, "/store") ||
		strings.HasSuffix(p, "/record") {
		room := p[strings.LastIndex(p, "/")+1:]
		if t.Name() != "" && room != "body" {
			return strings.ToUpper(room[:1]) + room[1:] + name
		}
	}
	return name
}

// problem answers outside the typed handlers with a problem document (RFC 9457).
func problem(w http.ResponseWriter, status int, detail string) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	e := huma.NewError(status, detail)
	_ = huma.DefaultJSONFormat.Marshal(w, e)
}

// problemIn is problem about one field.
func problemIn(w http.ResponseWriter, status int, field, what string) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	_ = huma.DefaultJSONFormat.Marshal(w, huma.NewError(status, field+": "+what, &huma.ErrorDetail{Location: field, Message: what}))
}

// failed maps an error of the desk to a problem document. It is the only place that does.
func (s *server) failed(ctx context.Context, err error) error {
	if err == nil {
		return nil
	}
	var field *body.FieldError
	var status huma.StatusError
	switch {
	case errors.As(err, &status):
		return err
	case errors.As(err, &field):
		return huma.Error422UnprocessableEntity(field.Field+": "+field.Message, &huma.ErrorDetail{Location: field.Field, Message: field.Message})
	case errors.Is(err, store.ErrNotFound):
		return huma.Error404NotFound("There is no such record here.")
	case errors.Is(err, store.ErrStale):
		return huma.Error409Conflict("Somebody changed this meanwhile. Look at the newest version; what you typed is still on your screen.")
	case errors.Is(err, room.ErrEarly):
		return huma.NewError(http.StatusTooEarly, "It is dated after today: the clock of the phone or of the server is set wrong. It stays on "+
			"the phone and is sent by itself.")
	case store.Unfit(err):
		return huma.Error422UnprocessableEntity("A figure or a text is beyond what a record can hold. Look at what " +
			"you typed; it is still on your screen.")
	case errors.Is(err, store.ErrTaken):
		return huma.Error409Conflict("This already belongs to another record.")
	case errors.Is(err, store.ErrNewerSchema):
		return huma.Error503ServiceUnavailable("A newer release keeps the records now; this server only shows them. Nothing was lost: load the " +
			"page anew, or try again when the server was restarted.")
	case errors.Is(err, room.ErrOwners):
		return huma.Error403Forbidden("Only an owner of the practice may do this. Ask one.")
	case store.Full(err):
		s.cfg.Log.Error("request", "id", askedIn(ctx).id, "err", err)
		return huma.Error503ServiceUnavailable("The server's disk is full. Nothing was lost or half done: what you typed is still on your " +
			"screen, and goes in as soon as somebody has made room.")
	case errors.Is(err, context.DeadlineExceeded):
		s.cfg.Log.Error("request", "id", askedIn(ctx).id, "err", "the database did not answer in time")
		return huma.Error503ServiceUnavailable("The database does not answer. Nothing was half done; try again in a moment.")
	case errors.Is(err, context.Canceled):
		// Whoever went away hears nothing of it; a phone that is still there must not take it for a refusal.
		return huma.Error503ServiceUnavailable("The request was given up. Nothing was half done; try again.")
	}
	s.cfg.Log.Error("request", "id", askedIn(ctx).id, "err", err)
	return huma.Error503ServiceUnavailable("The server could not do this just now. Nothing was half done; try again in a moment.")
}

func headers(secure bool) gin.HandlerFunc {
	return func(c *gin.Context) {
		h := c.Writer.Header()
		h.Set("Content-Security-Policy", "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' data:; "+
			"media-src 'self' blob:; connect-src 'self'; manifest-src 'self'; worker-src 'self'; base-uri 'none'; form-action 'self'; "+
			"frame-ancestors 'none'")
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("X-Frame-Options", "DENY")
		h.Set("Referrer-Policy", "no-referrer")
		h.Set("Permissions-Policy", "camera=(), microphone=(), geolocation=()")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		if secure {
			h.Set("Strict-Transport-Security", "max-age=31536000")
		}
		if strings.HasPrefix(c.Request.URL.Path, "/api/") {
			h.Set("Cache-Control", "no-store")
		}
		c.Next()
	}
}

// flushes lets an answer stream through the session's writer, which hides how.
type flushes struct{ http.ResponseWriter }

func (f flushes) Flush() { _ = http.NewResponseController(f.ResponseWriter).Flush() }

func (f flushes) Unwrap() http.ResponseWriter { return f.ResponseWriter }

func flushing(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) { next.ServeHTTP(flushes{w}, r) })
}

// guard wraps everything: bodies are bounded, requests from other sites refused, sessions loaded for
// the API only.
func (s *server) guard(next http.Handler) http.Handler {
	next = squeeze(next)
	cross := http.NewCrossOriginProtection()
	cross.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		problem(w, http.StatusForbidden, "This request came from another site and was refused.")
	}))
	withSession := s.sessions.LoadAndSave(flushing(next))
	return s.logged(cross.Handler(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		most, large, patience := int64(maxBody), "The body is too large: at most 256 KB.", s.cfg.Patience
		if isUpload(r) {
			most, large, patience = mostUpload, tooLarge, max(uploadPatience, patience)
			_ = http.NewResponseController(w).SetReadDeadline(time.Now().Add(patience))
			_ = http.NewResponseController(w).SetWriteDeadline(time.Now().Add(patience))
		}
		if r.ContentLength > most {
			problem(w, http.StatusRequestEntityTooLarge, large)
			return
		}
		if r.URL.Path != "/api/inclinometer" { // a stream has an end of its own
			ctx, done := context.WithTimeout(r.Context(), patience)
			defer done()
			r = r.WithContext(ctx)
		}
		r.Body = http.MaxBytesReader(w, r.Body, most)
		if !isUpload(r) && !readable(w, r) {
			return
		}
		if strings.HasPrefix(r.URL.Path, "/api/") && !strings.HasPrefix(r.URL.Path, "/api/phone") {
			withSession.ServeHTTP(w, r)
			return
		}
		next.ServeHTTP(w, r)
	})))
}

type actorKey struct{}

// A session ends when nothing was asked for so long; that it is in use is written no more often than so.
const (
	idleMost  = 3 * 24 * time.Hour
	seenEvery = time.Hour
)

type who struct {
	room.Actor
	coach store.Coach
}

func actor(ctx context.Context) room.Actor { return ctx.Value(actorKey{}).(who).Actor }

// signedIn lets only signed-in coaches through.
func (s *server) signedIn(ctx huma.Context, next func(huma.Context)) {
	c := ctx.Context()
	id := s.sessions.GetString(c, "coach")
	if id == "" {
		_ = huma.WriteErr(s.huma, ctx, http.StatusUnauthorized, "Sign in first.")
		return
	}
	now := s.cfg.Clock().Unix()
	idle := now - s.sessions.GetInt64(c, "seen")
	if !s.sessions.Exists(c, "seen") { // begun under an earlier release, which did not write it: counted from now on
		idle = int64(seenEvery/time.Second) + 1
	}
	coach, err := s.desk.Store.SignedIn(c, id, s.sessions.GetInt(c, "epoch"))
	switch {
	case idle > int64(idleMost/time.Second), errors.Is(err, store.ErrNotFound):
		_ = s.sessions.Destroy(c)
		_ = huma.WriteErr(s.huma, ctx, http.StatusUnauthorized, "You were signed out. Sign in again.")
		return
	case err != nil:
		s.cfg.Log.Error("session", "err", err)
		_ = huma.WriteErr(s.huma, ctx, http.StatusServiceUnavailable, "The database does not answer. Try again in a moment.")
		return
	}
	if idle > int64(seenEvery/time.Second) {
		s.sessions.Put(c, "seen", now)
		if err := s.desk.Store.In(c, coach.PracticeID, func(tx *store.Tx) error {
			return tx.SeeSession(c, coach.ID, s.sessions.Token(c), account.Device(ctx.Header("User-Agent")), s.cfg.Clock())
		}); err != nil { // it goes on all the same; the list of sessions is an hour behind
			s.cfg.Log.Error("session", "err", err)
		}
	}
	askedIn(c).coach = coach.ID
	a := room.Actor{Practice: coach.PracticeID, Coach: coach.ID, Name: coach.Name, Owner: coach.Role == store.Owner}
	next(huma.WithValue(ctx, actorKey{}, who{a, coach}))
	s.note(ctx, coach.PracticeID, coach.ID)
}

// do registers an operation of a signed-in coach.
func do[I, O any](s *server, method, path, id, summary string, f func(context.Context, *I) (O, error)) {
	register(s, method, path, id, summary, huma.Middlewares{s.signedIn}, f)
}

// look registers a room of one runner.
func look[V any](s *server, path, id, summary string, r room.Room[V]) {
	do(s, http.MethodGet, path, id, summary, func(ctx context.Context, in *RunnerPath) (V, error) {
		return r.Look(ctx, s.desk, actor(ctx), in.Runner)
	})
}

type out[O any] struct{ Body O }

type nothing struct {
	OK bool `json:"ok"`
}

func register[I, O any](s *server, method, path, id, summary string, m huma.Middlewares, f func(context.Context, *I) (O, error)) {
	huma.Register(s.huma, operation(method, path, id, summary, m), func(ctx context.Context, in *I) (*out[O], error) {
		o, err := f(ctx, in)
		if err != nil {
			return nil, s.failed(ctx, err)
		}
		return &out[O]{o}, nil
	})
}

// operation describes one. The body was read before; a deadline of its own for it would end the request's work some seconds later.
func operation(method, path, id, summary string, m huma.Middlewares) huma.Operation {
	return huma.Operation{OperationID: id, Method: method, Path: path, Summary: summary, Middlewares: m, MaxBodyBytes: maxBody,
		BodyReadTimeout: -1}
}

// ok turns a deed without an answer into one.
func ok(err error) (nothing, error) { return nothing{err == nil}, err }

// RunnerPath is the path of everything under one runner. Ids are checked by the pattern.
type RunnerPath struct {
	Runner string `path:"runner" format:"uuid" doc:"runner's id"`
}

func clientIP(ctx context.Context) string {
	if ip, isSet := ctx.Value(ipKey{}).(string); isSet {
		return ip
	}
	return ""
}

type ipKey struct{}

// withIP keeps the caller's address for rate limits.
func (s *server) withIP(ctx huma.Context, next func(huma.Context)) {
	host, _, err := net.SplitHostPort(ctx.RemoteAddr())
	if err != nil {
		host = ctx.RemoteAddr()
	}
	if s.cfg.TrustedProxy != "" && host == s.cfg.TrustedProxy {
		if f := ctx.Header("X-Forwarded-For"); f != "" {
			parts := strings.Split(f, ",")
			host = strings.TrimSpace(parts[len(parts)-1])
		}
	}
	next(huma.WithValue(ctx, ipKey{}, host))
}

func (s *server) web(engine *gin.Engine) {
	if s.cfg.Web == nil {
		return
	}
	desk, err := fs.ReadFile(s.cfg.Web, "index.html")
	phone, e := fs.ReadFile(s.cfg.Web, "phone.html")
	err = errors.Join(err, e)
	files := http.FileServerFS(s.cfg.Web)
	engine.NoRoute(func(c *gin.Context) {
		path := strings.TrimPrefix(c.Request.URL.Path, "/")
		if strings.HasPrefix(path, "api/") {
			problem(c.Writer, http.StatusNotFound, "There is no such address.")
			return
		}
		if st, e := fs.Stat(s.cfg.Web, path); e == nil && !st.IsDir() && !strings.HasSuffix(path, ".html") {
			if strings.HasPrefix(path, "assets/") {
				c.Header("Cache-Control", "public, max-age=31536000, immutable")
			} else {
				c.Header("Cache-Control", "no-cache")
			}
			if strings.HasSuffix(path, ".webmanifest") {
				c.Header("Content-Type", "application/manifest+json")
			}
			serveCompressed(c, s.cfg.Web, path, files)
			return
		}
		if err != nil {
			c.String(http.StatusServiceUnavailable, "The pages are not built. Run ./notchback demo or ./notchback serve, which build them.")
			return
		}
		page := desk
		if path == "phone" || strings.HasPrefix(path, "phone/") {
			page = phone
		}
		c.Header("Cache-Control", "no-cache")
		c.Data(http.StatusOK, "text/html; charset=utf-8", page)
	})
}
