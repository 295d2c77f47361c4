// Package store keeps a practice's records in PostgreSQL. Every transaction names its practice, and
// row-level security sees to it that a forgotten filter leaks nothing.
package store

import (
	"context"
	"embed"
	"errors"
	"fmt"
	neturl "net/url"
	"strings"
	"sync/atomic"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"
)

// Sentinel errors, mapped to problem documents in one place of the api.
var (
	ErrNotFound    = errors.New("not found")
	ErrTaken       = errors.New("already taken by another record")
	ErrStale       = errors.New("changed by somebody else meanwhile")
	ErrNewerSchema = errors.New("the records belong to a newer release, which this one would damage by writing")
)

//go:embed migrations/*.sql
var migrations embed.FS

// NewID returns a fresh UUIDv7.
func NewID() string { return uuid.Must(uuid.NewV7()).String() }

// Derived is the id of a record that follows from another: the same each time.
func Derived(id, name string) string {
	from, err := uuid.Parse(id)
	if err != nil {
		return NewID()
	}
	return uuid.NewSHA1(from, []byte(name)).String()
}

// Store is a pool of connections in the application's own role, which cannot bypass row security.
type Store struct {
	pool   *pgxpool.Pool
	memory atomic.Pointer[memory] // of the database behind the connections; a new connection may be to another one
}

// Option changes how a store connects.
type Option func(*pgxpool.Config)

// Traced has every statement seen by a tracer.
func Traced(t pgx.QueryTracer) Option {
	return func(c *pgxpool.Config) { c.ConnConfig.Tracer = t }
}

// Open connects as the application role.
func Open(ctx context.Context, url string, options ...Option) (*Store, error) {
	cfg, err := pgxpool.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("database address: %w", err)
	}
	if u, err := neturl.Parse(url); err != nil || !u.Query().Has("pool_max_conns") {
		cfg.MaxConns = 12
	}
	cfg.MinConns = min(4, cfg.MaxConns)         // the first page after a start waits for none
	cfg.ConnConfig.RuntimeParams["jit"] = "off" // short queries; compiling them costs more than running
	// every query goes by one runner's index; planning it anew costs as much as running it
	cfg.ConnConfig.RuntimeParams["plan_cache_mode"] = "force_generic_plan"
	cfg.ConnConfig.ConnectTimeout = 5 * time.Second
	for name, most := range map[string]string{"statement_timeout": "30s", "lock_timeout": "10s",
		"idle_in_transaction_session_timeout": "60s"} {
		if cfg.ConnConfig.RuntimeParams[name] == "" { // the address may say otherwise
			cfg.ConnConfig.RuntimeParams[name] = most
		}
	}
	for _, o := range options {
		o(cfg)
	}
	s := &Store{}
	cfg.AfterConnect = func(context.Context, *pgx.Conn) error {
		s.memory.Store(newMemory())
		return nil
	}
	pool, err := pgxpool.NewWithConfig(ctx, cfg)
	if err != nil {
		return nil, fmt.Errorf("connecting to the database: %w", err)
	}
	s.pool = pool
	if err := pool.Ping(ctx); err != nil {
		pool.Close()
		return nil, fmt.Errorf("connecting to the database: %w", err)
	}
	return s, nil
}

// Close returns every connection.
func (s *Store) Close() { s.pool.Close() }

// Ready reports whether the database answers.
func (s *Store) Ready(ctx context.Context) error { return s.pool.Ping(ctx) }

// Stat is how the connections stand.
func (s *Store) Stat() *pgxpool.Stat { return s.pool.Stat() }

// Prepare creates the roles and the database if they are missing and brings the schema up to date.
// adminURL must be allowed to create roles; appPassword becomes the application role's password. A
// database that holds records is backed up before it is migrated.
func Prepare(ctx context.Context, adminURL, database, appPassword string, keep Keep) error {
	admin, err := pgx.Connect(ctx, adminURL)
	if err != nil {
		return fmt.Errorf("connecting as administrator: %w", err)
	}
	defer admin.Close(ctx)
	if err := roles(ctx, admin); err != nil {
		return err
	}
	if _, err := admin.Exec(ctx, "ALTER ROLE notchback_app PASSWORD "+quote(appPassword)); err != nil {
		return fmt.Errorf("setting the application's password: %w", err)
	}
	var there bool
	if err := admin.QueryRow(ctx, `SELECT EXISTS (SELECT FROM pg_database WHERE datname = $1)`, database).Scan(&there); err != nil {
		return fmt.Errorf("looking for the database: %w", err)
	}
	if !there {
		if _, err := admin.Exec(ctx, "CREATE DATABASE "+pgx.Identifier{database}.Sanitize()+" OWNER notchback_owner"); err != nil {
			return fmt.Errorf("creating the database: %w", err)
		}
	}
	u, err := neturl.Parse(adminURL)
	if err != nil {
		return fmt.Errorf("database address: %w", err)
	}
	u.Path = "/" + database
	return Migrate(ctx, u.String(), keep)
}

// roles creates the roles that are missing.
func roles(ctx context.Context, admin *pgx.Conn) error {
	if _, err := admin.Exec(ctx, `DO $$ BEGIN
		IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = 'notchback_door') THEN CREATE ROLE notchback_door NOLOGIN; END IF;
		IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = 'notchback_backup') THEN CREATE ROLE notchback_backup NOLOGIN; END IF;
		IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = 'notchback_owner') THEN CREATE ROLE notchback_owner NOLOGIN NOBYPASSRLS; END IF;
		IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = 'notchback_app') THEN CREATE ROLE notchback_app LOGIN NOBYPASSRLS; END IF;
		IF NOT pg_has_role('notchback_owner', 'notchback_door', 'MEMBER') THEN GRANT notchback_door TO notchback_owner; END IF;
	END $$`); err != nil {
		return fmt.Errorf("creating roles: %w", err)
	}
	return nil
}

// Others counts the application's connections to the server, so that nobody stops a database another
// process still serves from. Close the own store first.
func Others(ctx context.Context, adminURL string) (n int, err error) {
	admin, err := pgx.Connect(ctx, adminURL)
	if err != nil {
		return 0, fmt.Errorf("connecting as administrator: %w", err)
	}
	defer admin.Close(ctx)
	err = admin.QueryRow(ctx, `SELECT count(*) FROM pg_stat_activity WHERE usename = 'notchback_app'`).Scan(&n)
	return n, err
}

// Drop deletes a database; the demo uses it to start anew.
func Drop(ctx context.Context, adminURL, database string) error {
	admin, err := pgx.Connect(ctx, adminURL)
	if err != nil {
		return fmt.Errorf("connecting as administrator: %w", err)
	}
	defer admin.Close(ctx)
	if _, err := admin.Exec(ctx, "DROP DATABASE IF EXISTS "+pgx.Identifier{database}.Sanitize()+" WITH (FORCE)"); err != nil {
		return fmt.Errorf("dropping the database: %w", err)
	}
	return nil
}

func quote(s string) string {
	out := "'"
	for _, r := range s {
		if r == '\'' {
			out += "'"
		}
		out += string(r)
	}
	return out + "'"
}

// Migrate brings the schema of the database at an address up to date, in the role notchback_owner or in one that may take it.
// One at a time: a second program waits, and finds it done. A database that holds records is backed up first.
func Migrate(ctx context.Context, address string, keep Keep) error {
	cfg, err := pgx.ParseConfig(address)
	if err != nil {
		return fmt.Errorf("database address: %w", err)
	}
	own, err := pgx.ConnectConfig(ctx, cfg)
	if err != nil {
		return fmt.Errorf("connecting to migrate: %w", err)
	}
	defer own.Close(context.WithoutCancel(ctx)) // ends the lock too
	if _, err := own.Exec(ctx, `SELECT pg_advisory_lock(hashtextextended('notchback migrates', 0))`); err != nil {
		return fmt.Errorf("waiting for another migration: %w", err)
	}
	if err := keep.backup(ctx, own, address, cfg.Database, time.Now()); err != nil {
		return fmt.Errorf("nothing was migrated: %w", err)
	}
	if _, err := own.Exec(ctx, `ALTER SCHEMA public OWNER TO notchback_owner`); err != nil {
		return fmt.Errorf("owning the schema: %w", err)
	}
	cfg.RuntimeParams["role"] = "notchback_owner"
	db := stdlib.OpenDB(*cfg)
	defer db.Close()
	goose.SetBaseFS(migrations)
	goose.SetLogger(goose.NopLogger())
	if err := goose.SetDialect("postgres"); err != nil {
		return err
	}
	if err := goose.UpContext(ctx, db, "migrations"); err != nil {
		return fmt.Errorf("migrating: %w", err)
	}
	// A release before the policies let this role pass row security by; only a superuser may say so.
	_, err = own.Exec(ctx, `DO $$ BEGIN
		IF (SELECT rolsuper FROM pg_roles WHERE rolname = current_user)
			AND (SELECT rolbypassrls FROM pg_roles WHERE rolname = 'notchback_door') THEN ALTER ROLE notchback_door NOBYPASSRLS; END IF;
	END $$`)
	if err != nil {
		return fmt.Errorf("closing the door's way past row security: %w", err)
	}
	return nil
}

// Standing of a schema against the program's own.
type Schema struct {
	Version, Known int64 // newest migration of the database, and of the program
	Administers    bool  // the address is of a role that may create roles
}

// Look says how the database at an address stands, without changing anything.
func Look(ctx context.Context, address string) (s Schema, err error) {
	conn, err := pgx.Connect(ctx, address)
	if err != nil {
		return s, fmt.Errorf("connecting to the database: %w", err)
	}
	defer conn.Close(context.WithoutCancel(ctx))
	s.Known = newest()
	var there bool
	err = conn.QueryRow(ctx, `SELECT rolsuper OR rolcreaterole, to_regclass('public.goose_db_version') IS NOT NULL FROM pg_roles
		WHERE rolname = current_user`).Scan(&s.Administers, &there)
	if err == nil && there {
		err = conn.QueryRow(ctx, `SELECT coalesce(max(version_id) FILTER (WHERE is_applied), 0) FROM goose_db_version`).Scan(&s.Version)
	}
	if err != nil {
		return s, fmt.Errorf("looking at the schema: %w", err)
	}
	return s, nil
}

// Tx is one transaction inside one practice.
type Tx struct {
	pgx.Tx
	Practice string
	memory   *memory // where it is one snapshot; nil otherwise
	before   *memory // where it is a change of the tests: what is known of before it; nil otherwise
}

// In runs f in a transaction of the practice and commits when f returns no error.
func (s *Store) In(ctx context.Context, practice string, f func(*Tx) error) error {
	return s.begin(ctx, practice, pgx.TxOptions{}, f)
}

// Read runs f on one snapshot of the practice, in which nothing can be written.
func (s *Store) Read(ctx context.Context, practice string, f func(*Tx) error) error {
	return s.begin(ctx, practice, pgx.TxOptions{IsoLevel: pgx.RepeatableRead, AccessMode: pgx.ReadOnly}, f)
}

func (s *Store) begin(ctx context.Context, practice string, o pgx.TxOptions, f func(*Tx) error) error {
	return pgx.BeginTxFunc(ctx, s.pool, o, func(tx pgx.Tx) error {
		var writes int64
		err := tx.QueryRow(ctx, `SELECT writes_from FROM compat, set_config('app.practice_id', $1, true)`, practice).Scan(&writes)
		if err != nil {
			return fmt.Errorf("entering the practice: %w", err)
		}
		if writes > newest() && o.AccessMode != pgx.ReadOnly {
			return ErrNewerSchema
		}
		x := &Tx{Tx: tx, Practice: practice}
		if o.IsoLevel == pgx.RepeatableRead {
			x.memory = s.memory.Load()
		}
		return f(x)
	})
}

// Change runs f while it holds the runner, so that two changes of one record come one after the other, and counts the
// change. A runner of another practice gives ErrNotFound.
func (s *Store) Change(ctx context.Context, practice, runner string, f func(*Tx) error) error {
	return s.change(ctx, practice, runner, false, f)
}

// ChangeTrial is Change for a trial of a screen, put in or taken out: what was computed of all else still holds.
func (s *Store) ChangeTrial(ctx context.Context, practice, runner string, f func(*Tx) error) error {
	return s.change(ctx, practice, runner, true, f)
}

func (s *Store) change(ctx context.Context, practice, runner string, trial bool, f func(*Tx) error) error {
	return pgx.BeginFunc(ctx, s.pool, func(tx pgx.Tx) error {
		var touched *int64
		var writes int64
		if err := tx.QueryRow(ctx, `SELECT enter_change($1, $2, $3), writes_from FROM compat`, practice, runner, trial).Scan(&touched,
			&writes); err != nil {
			return fmt.Errorf("holding the runner: %w", known(err))
		}
		if writes > newest() {
			return ErrNewerSchema
		}
		if touched == nil {
			return fmt.Errorf("holding the runner: %w", ErrNotFound)
		}
		x := &Tx{Tx: tx, Practice: practice}
		if trial {
			x.before = s.memory.Load()
		}
		return f(x)
	})
}

// insertOnce runs an insert that ends in ON CONFLICT (id) DO NOTHING, so that a repeated write is the
// same write. When the id was there already it must be visible as the same record of the same owner;
// visible is a query that returns true then.
func (tx *Tx) insertOnce(ctx context.Context, doing, visible string, key []any, sql string, args ...any) (inserted bool, err error) {
	tag, err := tx.Exec(ctx, sql, args...)
	if err != nil {
		return false, fmt.Errorf("%s: %w", doing, known(err))
	}
	if tag.RowsAffected() == 1 {
		return true, nil
	}
	var same bool
	if err := tx.QueryRow(ctx, "SELECT EXISTS ("+visible+")", key...).Scan(&same); err != nil {
		return false, fmt.Errorf("%s: %w", doing, err)
	}
	if !same {
		return false, fmt.Errorf("%s: %w", doing, ErrTaken)
	}
	return false, nil
}

// Unfit reports an error of a value that no column takes: out of its range, or against a check.
func Unfit(err error) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && (strings.HasPrefix(pg.Code, "22") || pg.Code == "23514")
}

// Full reports that the database's disk takes nothing more.
func Full(err error) bool {
	var pg *pgconn.PgError
	return errors.As(err, &pg) && pg.Code == "53100"
}

// known turns a database error into a sentinel where it has one meaning.
func known(err error) error {
	var pg *pgconn.PgError
	if errors.As(err, &pg) {
		switch pg.Code {
		case "23503": // the owner is not in this practice
			return fmt.Errorf("%w (%s)", ErrNotFound, pg.ConstraintName)
		case "23505":
			return fmt.Errorf("%w (%s)", ErrTaken, pg.ConstraintName)
		}
	}
	if errors.Is(err, pgx.ErrNoRows) {
		return ErrNotFound
	}
	return err
}
