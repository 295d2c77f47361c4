package store

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
)

// Keep says where a backup goes before records are migrated. Without a folder none is taken.
type Keep struct {
	Bin string // folder of PostgreSQL's programs
	Dir string // folder for the backups

	From string // address of a role that sees every record; empty: the one that migrates
}

// Backup writes the database at adminURL to a new file in PostgreSQL's own format. It refuses to write over a file, and a
// role that does not see every record, and leaves none behind when it fails.
func Backup(ctx context.Context, bin, adminURL, file string) error {
	past, err := whole(ctx, adminURL)
	if err != nil {
		return err
	}
	out, err := os.OpenFile(file, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if errors.Is(err, os.ErrExist) {
		return fmt.Errorf("%s is there already; give another name", file)
	}
	if err != nil {
		return fmt.Errorf("making the backup: %w", err)
	}
	args := []string{"--format=custom", "--compress=9", "--no-sync"}
	if !past {
		args = append(args, "--enable-row-security") // whose policies show everything, as was seen
	}
	err = tool(ctx, bin, adminURL, "pg_dump", nil, out, args...)
	if err == nil {
		err = out.Sync()
	}
	if err = errors.Join(err, out.Close()); err != nil {
		_ = os.Remove(file)
		return fmt.Errorf("making the backup: %w", err)
	}
	return nil
}

// Restore makes the database from a backup. The database must not be there yet; when anything fails
// none is left behind.
func Restore(ctx context.Context, bin, adminURL, database, file string) error {
	in, err := os.Open(file)
	if err != nil {
		return fmt.Errorf("restoring: %w", err)
	}
	defer in.Close()
	admin, err := pgx.Connect(ctx, adminURL)
	if err != nil {
		return fmt.Errorf("connecting as administrator: %w", err)
	}
	defer admin.Close(ctx)
	if err := roles(ctx, admin); err != nil {
		return err
	}
	if _, err := admin.Exec(ctx, "CREATE DATABASE "+pgx.Identifier{database}.Sanitize()+" OWNER notchback_owner"); err != nil {
		return fmt.Errorf("creating the database: %w", err)
	}
	u, err := url.Parse(adminURL)
	if err != nil {
		return fmt.Errorf("database address: %w", err)
	}
	u.Path = "/" + database
	// Who is no superuser gives a function only to a role that may make one here.
	if err := inDatabase(ctx, u.String(),
		`ALTER SCHEMA public OWNER TO notchback_owner; GRANT CREATE ON SCHEMA public TO notchback_door`); err != nil {
		return err
	}
	if err := tool(ctx, bin, u.String(), "pg_restore", in, nil, "--exit-on-error", "--single-transaction", "--dbname="+database); err != nil {
		_ = Drop(context.WithoutCancel(ctx), adminURL, database)
		return fmt.Errorf("restoring %s: %w; is it a backup of Notchback?", file, err)
	}
	return inDatabase(ctx, u.String(), `REVOKE CREATE ON SCHEMA public FROM notchback_door`)
}

// inDatabase runs statements in one database.
func inDatabase(ctx context.Context, address, sql string) error {
	conn, err := pgx.Connect(ctx, address)
	if err != nil {
		return fmt.Errorf("connecting to the database: %w", err)
	}
	defer conn.Close(context.WithoutCancel(ctx))
	if _, err := conn.Exec(ctx, sql); err != nil {
		return fmt.Errorf("preparing the database: %w", err)
	}
	return nil
}

// Swap puts a restored database in the place of another, which is kept under a name of its own; that
// name is returned, empty when there was none.
func Swap(ctx context.Context, adminURL, restored, database string, now time.Time) (kept string, err error) {
	admin, err := pgx.Connect(ctx, adminURL)
	if err != nil {
		return "", fmt.Errorf("connecting as administrator: %w", err)
	}
	defer admin.Close(ctx)
	var there bool
	if err := admin.QueryRow(ctx, `SELECT EXISTS (SELECT FROM pg_database WHERE datname = $1)`, database).Scan(&there); err != nil {
		return "", fmt.Errorf("looking for the database: %w", err)
	}
	name := func(s string) string { return pgx.Identifier{s}.Sanitize() }
	if there {
		kept = database + "_before_" + now.UTC().Format("20060102_150405")
		if _, err := admin.Exec(ctx, "ALTER DATABASE "+name(database)+" RENAME TO "+name(kept)); err != nil {
			return "", fmt.Errorf("setting the database aside: %w", err)
		}
	}
	if _, err := admin.Exec(ctx, "ALTER DATABASE "+name(restored)+" RENAME TO "+name(database)); err != nil {
		return kept, fmt.Errorf("putting the restored database in place: %w", err)
	}
	return kept, nil
}

// tool runs one of PostgreSQL's programs against a database; the password goes through the environment,
// where other users do not see it.
func tool(ctx context.Context, bin, address, name string, in, out *os.File, args ...string) error {
	u, err := url.Parse(address)
	if err != nil {
		return fmt.Errorf("database address: %w", err)
	}
	password, _ := u.User.Password()
	u.User = url.User(u.User.Username())
	cmd := exec.CommandContext(ctx, filepath.Join(bin, name), append(args, "--host="+u.Hostname(), "--port="+u.Port(),
		"--username="+u.User.Username())...)
	if name == "pg_dump" {
		cmd.Args = append(cmd.Args, "--dbname="+strings.TrimPrefix(u.Path, "/"))
	}
	cmd.Env = append(os.Environ(), "PGPASSWORD="+password, "LC_ALL=C.UTF-8")
	if mode := u.Query().Get("sslmode"); mode != "" {
		cmd.Env = append(cmd.Env, "PGSSLMODE="+mode)
	}
	var said strings.Builder
	cmd.Stdin, cmd.Stdout, cmd.Stderr = in, out, &said
	if in == nil {
		cmd.Stdin = nil
	}
	if out == nil {
		cmd.Stdout = nil
	}
	if err := cmd.Run(); err != nil {
		return fmt.Errorf("%s: %w: %s", name, err, strings.TrimSpace(said.String()))
	}
	return nil
}

// backup keeps the database before it is migrated, when it holds records and a newer schema waits.
func (k Keep) backup(ctx context.Context, own *pgx.Conn, address, database string, now time.Time) error {
	if k.Dir == "" {
		return nil
	}
	var version int64
	var used bool
	err := own.QueryRow(ctx, `SELECT to_regclass('public.goose_db_version') IS NOT NULL`).Scan(&used)
	if err == nil && used {
		err = own.QueryRow(ctx, `SELECT coalesce(max(version_id) FILTER (WHERE is_applied), 0) FROM goose_db_version`).Scan(&version)
	}
	if err == nil && used { // past row security: only whether there is anything
		err = own.QueryRow(ctx, `SELECT coalesce(bool_or(pg_relation_size(c.oid) > 0), false) FROM pg_class c
			JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = 'public' AND c.relname = 'practices'`).Scan(&used)
	}
	if err != nil {
		return fmt.Errorf("looking at the schema before the backup: %w", err)
	}
	if !used || version >= newest() {
		return nil
	}
	if err := os.MkdirAll(k.Dir, 0o700); err != nil {
		return fmt.Errorf("making the folder for backups: %w", err)
	}
	from := cmp.Or(k.From, address)
	return Backup(ctx, k.Bin, from, filepath.Join(k.Dir, fmt.Sprintf("%s-schema%d-%s.dump", database, version,
		now.UTC().Format("20060102-150405"))))
}

// whole reports whether the role of an address sees every row: one that passes row security by, or one whose policies hide
// nothing. A dump by another would come out empty.
func whole(ctx context.Context, address string) (past bool, err error) {
	conn, err := pgx.Connect(ctx, address)
	if err != nil {
		return false, fmt.Errorf("connecting for the backup: %w", err)
	}
	defer conn.Close(context.WithoutCancel(ctx))
	var role string
	var hidden []string
	err = conn.QueryRow(ctx, `SELECT current_user, rolsuper OR rolbypassrls FROM pg_roles WHERE rolname = current_user`).Scan(&role, &past)
	if err == nil {
		err = conn.QueryRow(ctx, `SELECT coalesce(array_agg(c.relname::text ORDER BY c.relname), '{}') FROM pg_class c
			JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = 'public' AND c.relkind = 'r'
			AND (NOT has_table_privilege(c.oid, 'SELECT')
			OR c.relrowsecurity AND NOT EXISTS (SELECT FROM pg_policy p WHERE p.polrelid = c.oid AND p.polcmd IN ('r', '*') AND p.polpermissive
				AND pg_get_expr(p.polqual, p.polrelid) = 'true'
				AND EXISTS (SELECT FROM unnest(p.polroles) r WHERE r <> 0 AND pg_has_role(r, 'USAGE'))))`).Scan(&hidden)
	}
	switch {
	case err != nil:
		return false, fmt.Errorf("looking at what %s sees: %w", role, err)
	case past || len(hidden) == 0:
		return past, nil
	}
	return false, fmt.Errorf("%s does not see every record (%s): the backup would be empty or in part; take the address of "+
		"notchback_backup, or of an administrator", role, strings.Join(hidden, ", "))
}

// newest is the number of the newest migration.
func newest() (n int64) {
	files, _ := migrations.ReadDir("migrations")
	for _, f := range files {
		var v int64
		if _, err := fmt.Sscanf(f.Name(), "%d_", &v); err == nil {
			n = max(n, v)
		}
	}
	return n
}
