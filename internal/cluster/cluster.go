// Package cluster runs a private PostgreSQL server on loopback in a folder of the project.
package cluster

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"syscall"
	"time"
)

// Cluster is a running private server.
type Cluster struct {
	dir      string // data folder
	bin      string
	port     int
	password string
	memory   bool
	adopted  bool
	cred     *syscall.Credential
}

// Options choose where the server keeps its data.
type Options struct {
	Dir    string // wanted data folder, absolute
	Memory bool   // a throw-away server for tests: no durability
}

// Bin returns the newest PostgreSQL server folder of Debian's packages, or an error that says what to
// install.
func Bin() (string, error) {
	found, _ := filepath.Glob("/usr/lib/postgresql/*/bin/postgres")
	slices.SortFunc(found, func(a, b string) int { return version(a) - version(b) })
	if len(found) == 0 || version(found[len(found)-1]) < 15 {
		return "", errors.New("PostgreSQL 15 or newer is missing: install Debian's package postgresql")
	}
	return filepath.Dir(found[len(found)-1]), nil
}

func version(path string) int {
	n, _ := strconv.Atoi(strings.Split(path, "/")[4])
	return n
}

// Start creates the data folder when it is new, adopts a server a crash left running, or starts one.
func Start(ctx context.Context, o Options) (*Cluster, error) {
	bin, err := Bin()
	if err != nil {
		return nil, err
	}
	c := &Cluster{bin: bin, dir: o.Dir}
	if os.Geteuid() == 0 {
		u, err := user.Lookup("postgres")
		if err != nil {
			return nil, errors.New("started as root, but there is no user postgres: install Debian's package postgresql")
		}
		uid, _ := strconv.Atoi(u.Uid)
		gid, _ := strconv.Atoi(u.Gid)
		c.cred = &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}
		if !c.reachable(filepath.Dir(o.Dir)) {
			sum := sha256.Sum256([]byte(o.Dir))
			c.dir = "/var/lib/notchback-" + hex.EncodeToString(sum[:4])
		}
	}
	if err := c.create(ctx, o); err != nil {
		return nil, err
	}
	c.memory = o.Memory
	return c, c.launch(ctx)
}

// Watch starts the server again on the same port when it has ended by itself, such as for want of room on the disk, until ctx
// ends. told hears that it ended, and that it serves again or why not.
func (c *Cluster) Watch(ctx context.Context, told func(what string, err error)) {
	look := time.NewTicker(time.Second)
	defer look.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-look.C:
		}
		pid, _ := c.pid()
		if state := postgres(pid); state != 0 && state != 'Z' {
			continue
		}
		told("the database ended by itself and is started again", nil)
		if err := c.launch(ctx); ctx.Err() == nil {
			told("the database was started again", err)
		}
	}
}

// launch adopts a server that runs, or starts one: on the port it had, else on a free one.
func (c *Cluster) launch(ctx context.Context) (err error) {
	if c.adopt() {
		return c.wait(ctx, nil)
	}
	if c.port == 0 { // after a crash the port it had, on which another notchback may still look for it
		_, port := c.pid()
		if c.port, err = freePort(port); err != nil {
			return err
		}
	}
	args := []string{"-D", c.dir, "-p", strconv.Itoa(c.port), "-c", "listen_addresses=127.0.0.1", "-c", "unix_socket_directories="}
	if c.memory {
		args = append(args, "-c", "fsync=off", "-c", "synchronous_commit=off", "-c", "full_page_writes=off", "-c", "max_connections=200")
	}
	log, err := os.OpenFile(filepath.Join(c.dir, "server.log"), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return fmt.Errorf("opening the database's log: %w", err)
	}
	defer log.Close()
	// After a crash the old server's workers may hold its memory for a moment; try again until they
	// are gone.
	for range 40 {
		cmd := c.command(filepath.Join(c.bin, "postgres"), args...)
		cmd.Stdout, cmd.Stderr = log, log
		// A group of its own, so that Ctrl-C reaches the application first and the server stops after it.
		cmd.SysProcAttr.Setpgid = true
		if err := cmd.Start(); err != nil {
			return fmt.Errorf("starting PostgreSQL: %w", err)
		}
		ended := make(chan struct{})
		go func() { _ = cmd.Wait(); close(ended) }()
		if err = c.wait(ctx, ended); !errors.Is(err, errEnded) {
			return err
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(250 * time.Millisecond):
		}
		if c.adopt() { // another notchback was quicker
			return c.wait(ctx, nil)
		}
	}
	return fmt.Errorf("PostgreSQL did not start: see %s", filepath.Join(c.dir, "server.log"))
}

var errEnded = errors.New("PostgreSQL ended")

func (c *Cluster) command(name string, args ...string) *exec.Cmd {
	cmd := exec.Command(name, args...)
	cmd.Dir = "/"
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: c.cred}
	cmd.Env = append(os.Environ(), "LC_ALL=C.UTF-8")
	return cmd
}

// reachable reports whether the server's user may pass through every parent folder.
func (c *Cluster) reachable(dir string) bool {
	for d := dir; ; d = filepath.Dir(d) {
		if st, err := os.Stat(d); err == nil && st.Mode().Perm()&0o001 == 0 {
			return false
		}
		if d == "/" {
			return true
		}
	}
}

func (c *Cluster) create(ctx context.Context, o Options) error {
	secret := filepath.Join(c.dir, "notchback.secret")
	if b, err := os.ReadFile(secret); err == nil {
		c.password = string(b)
		return nil
	}
	if entries, err := os.ReadDir(c.dir); err == nil && len(entries) > 0 {
		return fmt.Errorf("the data folder %s is half made: remove it and start again", c.dir)
	}
	if err := os.MkdirAll(filepath.Dir(c.dir), 0o755); err != nil {
		return fmt.Errorf("making the data folder: %w", err)
	}
	if err := os.MkdirAll(c.dir, 0o700); err != nil {
		return fmt.Errorf("making the data folder: %w", err)
	}
	if c.cred != nil {
		if err := os.Chown(c.dir, int(c.cred.Uid), int(c.cred.Gid)); err != nil {
			return fmt.Errorf("handing the data folder to postgres: %w", err)
		}
	}
	c.password = Secret()
	pw := filepath.Join(os.TempDir(), "notchback-"+Secret())
	if err := os.WriteFile(pw, []byte(c.password), 0o600); err != nil {
		return err
	}
	defer os.Remove(pw)
	if c.cred != nil {
		_ = os.Chown(pw, int(c.cred.Uid), int(c.cred.Gid))
	}
	args := []string{"-D", c.dir, "-U", "postgres", "--auth=scram-sha-256", "--pwfile=" + pw, "-E", "UTF8", "--locale=C.UTF-8"}
	if o.Memory {
		args = append(args, "--no-sync")
	}
	if out, err := c.command(filepath.Join(c.bin, "initdb"), args...).CombinedOutput(); err != nil {
		return fmt.Errorf("creating the database folder: %w: %s", err, strings.TrimSpace(string(out)))
	}
	if err := os.WriteFile(secret, []byte(c.password), 0o600); err != nil {
		return err
	}
	return ctx.Err()
}

// Secret returns a random password of 128 bits.
func Secret() string {
	b := make([]byte, 16)
	_, _ = rand.Read(b)
	return hex.EncodeToString(b)
}

func (c *Cluster) pid() (pid, port int) {
	b, err := os.ReadFile(filepath.Join(c.dir, "postmaster.pid"))
	lines := strings.Split(string(b), "\n")
	if err != nil || len(lines) < 4 {
		return 0, 0
	}
	pid, _ = strconv.Atoi(strings.TrimSpace(lines[0]))
	port, _ = strconv.Atoi(strings.TrimSpace(lines[3]))
	return pid, port
}

// adopt takes over a server that still runs on this folder. Where the first process of a container
// never collects its dead, a killed server stays in the process table and would bar the next one for
// ever: once none of its workers is left, its lock file is removed.
func (c *Cluster) adopt() bool {
	pid, port := c.pid()
	if pid == 0 {
		return false
	}
	state := postgres(pid)
	if state == 0 {
		return false
	}
	if state == 'Z' {
		for range 100 {
			if !c.workers() {
				_ = os.Remove(filepath.Join(c.dir, "postmaster.pid"))
				break
			}
			time.Sleep(100 * time.Millisecond) // another process's end sends no event to wait for
		}
		return false
	}
	c.port, c.adopted = port, true
	return true
}

// postgres is the state of a process as the system writes it, Z for one that ended and was not collected; 0 where there is
// none, or it is another program's.
func postgres(pid int) byte {
	stat, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", pid))
	_, after, is := strings.Cut(string(stat), "(postgres) ")
	if err != nil || !is || after == "" {
		return 0
	}
	return after[0]
}

// workers reports whether any process still works in the data folder.
func (c *Cluster) workers() bool {
	dirs, _ := filepath.Glob("/proc/[0-9]*/cwd")
	return slices.ContainsFunc(dirs, func(d string) bool {
		to, err := os.Readlink(d)
		return err == nil && to == c.dir
	})
}

// freePort is the port that is wished for, if nobody listens on it, else any that is free.
func freePort(wish int) (int, error) {
	l, err := net.Listen("tcp", net.JoinHostPort("127.0.0.1", strconv.Itoa(wish)))
	if err != nil && wish != 0 {
		return freePort(0)
	}
	if err != nil {
		return 0, fmt.Errorf("finding a free port: %w", err)
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

// wait returns once the server accepts a connection, or errEnded when its process ended first.
func (c *Cluster) wait(ctx context.Context, ended <-chan struct{}) error {
	deadline := time.After(60 * time.Second)
	for {
		if exec.Command(filepath.Join(c.bin, "pg_isready"), "-q", "-h", "127.0.0.1", "-p", strconv.Itoa(c.port)).Run() == nil {
			return nil
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-ended:
			return errEnded
		case <-deadline:
			return fmt.Errorf("PostgreSQL does not answer: see %s", filepath.Join(c.dir, "server.log"))
		case <-time.After(50 * time.Millisecond):
		}
	}
}

// AdminURL is the administrator's address of a database.
func (c *Cluster) AdminURL(database string) string { return c.url("postgres", c.password, database) }

// AppURL is the application role's address of a database, with the password AppPassword gives.
func (c *Cluster) AppURL(database string) string {
	return c.url("notchback_app", c.AppPassword(), database)
}

// AppPassword is the application role's password, derived from the cluster's secret.
func (c *Cluster) AppPassword() string {
	sum := sha256.Sum256([]byte("app " + c.password))
	return hex.EncodeToString(sum[:16])
}

func (c *Cluster) url(role, password, database string) string {
	return fmt.Sprintf("postgres://%s:%s@127.0.0.1:%d/%s?sslmode=disable", role, password, c.port, database)
}

// Adopted reports whether the server was already running.
func (c *Cluster) Adopted() bool { return c.adopted }

// Kill ends the server at once, as a power cut would; for tests.
func (c *Cluster) Kill() error {
	pid, _ := c.pid()
	if pid == 0 {
		return errors.New("no server to kill")
	}
	if err := syscall.Kill(pid, syscall.SIGKILL); err != nil {
		return err
	}
	return c.gone(pid)
}

// Stop shuts the server down cleanly.
func (c *Cluster) Stop() error {
	pid, _ := c.pid()
	if pid == 0 {
		return nil
	}
	if err := syscall.Kill(pid, syscall.SIGINT); err != nil && !errors.Is(err, syscall.ESRCH) {
		return fmt.Errorf("stopping PostgreSQL: %w", err)
	}
	return c.gone(pid)
}

func (c *Cluster) gone(pid int) error {
	for range 600 {
		state, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", pid))
		if err != nil || strings.Contains(string(state), ") Z ") {
			return nil
		}
		time.Sleep(50 * time.Millisecond) // another process's end sends no event to wait for
	}
	return errors.New("PostgreSQL did not stop within 30 s")
}

// Remove deletes a stopped server's data.
func (c *Cluster) Remove() error { return os.RemoveAll(c.dir) }
