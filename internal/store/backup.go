package store

import (
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
}

// Backup writes the database at adminURL to a new file in PostgreSQL's own format. It refuses to write
// over a file, and leaves none behind when it fails.
func Backup(ctx context.Context, bin, adminURL, file string) error {
	out, err := os.OpenFile(file, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if errors.Is(err, os.ErrExist) {
		return fmt.Errorf("%s is there already; give another name", file)
	}
	if err != nil {
		return fmt.Errorf("making the backup: %w", err)
	}
	err = tool(ctx, bin, adminURL, "pg_dump", nil, out, "--format=custom", "--compress=9", "--no-sync")
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
	if err := tool(ctx, bin, u.String(), "pg_restore", in, nil, "--exit-on-error", "--single-transaction", "--dbname="+database); err != nil {
		_ = Drop(context.WithoutCancel(ctx), adminURL, database)
		return fmt.Errorf("restoring %s: %w; is it a backup of Notchback?", file, err)
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
func (k Keep) backup(ctx context.Context, adminURL, database string, now time.Time) error {
	if k.Dir == "" {
		return nil
	}
	u, err := url.Parse(adminURL)
	if err != nil {
		return fmt.Errorf("database address: %w", err)
	}
	u.Path = "/" + database
	own, err := pgx.Connect(ctx, u.String())
	if err != nil {
		return fmt.Errorf("connecting before the backup: %w", err)
	}
	defer own.Close(ctx)
	var version int64
	var used bool
	err = own.QueryRow(ctx, `SELECT to_regclass('public.goose_db_version') IS NOT NULL`).Scan(&used)
	if err == nil && used {
		err = own.QueryRow(ctx, `SELECT coalesce(max(version_id) FILTER (WHERE is_applied), 0), EXISTS (SELECT FROM practices)
			FROM goose_db_version`).Scan(&version, &used)
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
	return Backup(ctx, k.Bin, u.String(), filepath.Join(k.Dir,
		fmt.Sprintf("%s-schema%d-%s.dump", database, version, now.UTC().Format("20060102-150405"))))
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
