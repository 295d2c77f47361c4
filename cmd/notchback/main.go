// Command notchback serves the practice. The script ./notchback builds it and passes its words on.
package main

import (
	"context"
	"crypto/tls"
	"errors"
	"flag"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/signal"
	"path/filepath"
	"strconv"
	"syscall"
	"time"
	_ "time/tzdata" // zones work on machines without them

	"notchback/internal/api"
	"notchback/internal/cluster"
	"notchback/internal/core/house"
	"notchback/internal/core/screen"
	"notchback/internal/demo"
	"notchback/internal/job"
	"notchback/internal/standin"
	"notchback/internal/store"
	"notchback/web"
)

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if err := run(ctx, os.Args[1:]); err != nil {
		fmt.Fprintln(os.Stderr, "notchback: "+err.Error())
		os.Exit(1)
	}
}

type options struct {
	data, admin, database, bind, public, cert, key, proxy string
	verbose, fresh                                        bool
}

func run(ctx context.Context, args []string) error {
	if len(args) == 0 {
		return errors.New("say demo, serve, practice, code or openapi; ./notchback help tells more")
	}
	var o options
	fs := flag.NewFlagSet(args[0], flag.ContinueOnError)
	fs.StringVar(&o.data, "data", env("NOTCHBACK_DATA", ".data"), "folder of the private database")
	fs.StringVar(&o.admin, "database-url", os.Getenv("NOTCHBACK_DATABASE_URL"), "use this PostgreSQL server instead of a private one (an administrator's address)")
	fs.StringVar(&o.bind, "bind", env("NOTCHBACK_BIND", "127.0.0.1:8080"), "address to listen on")
	fs.StringVar(&o.public, "public-url", os.Getenv("NOTCHBACK_PUBLIC_URL"), "address phones use, e.g. https://notchback.example")
	fs.StringVar(&o.cert, "tls-cert", os.Getenv("NOTCHBACK_TLS_CERT"), "certificate file")
	fs.StringVar(&o.key, "tls-key", os.Getenv("NOTCHBACK_TLS_KEY"), "key file")
	fs.StringVar(&o.proxy, "trusted-proxy", os.Getenv("NOTCHBACK_TRUSTED_PROXY"), "address of a proxy that ends TLS")
	fs.BoolVar(&o.verbose, "verbose", false, "log requests that failed")
	fs.BoolVar(&o.fresh, "fresh", false, "demo: load the club anew, as of today")
	if err := fs.Parse(args[1:]); err != nil {
		return err
	}
	switch args[0] {
	case "openapi":
		doc, err := api.OpenAPI()
		fmt.Println(string(doc))
		return err
	case "measures":
		fmt.Print(screen.Table(house.Rules{}))
		return nil
	case "films":
		fmt.Print(standin.TableText(house.Rules{}))
		return nil
	case "demo":
		o.database = "notchback_demo"
		return serve(ctx, o, true)
	case "serve":
		o.database = "notchback"
		return serve(ctx, o, false)
	case "practice", "code":
		o.database = "notchback"
		return administer(ctx, o, args[0], fs.Args())
	}
	return fmt.Errorf("there is no %q; say demo, serve, practice, code or openapi", args[0])
}

func env(key, fallback string) string {
	if v := os.Getenv(key); v != "" {
		return v
	}
	return fallback
}

// database starts or reaches the database, brings it up to date and opens the store.
func database(ctx context.Context, o options) (*store.Store, func(), error) {
	admin, app, closeDB := o.admin, "", func() {}
	if admin == "" {
		dir, err := filepath.Abs(filepath.Join(o.data, "postgres"))
		if err != nil {
			return nil, nil, err
		}
		c, err := cluster.Start(ctx, cluster.Options{Dir: dir})
		if err != nil {
			return nil, nil, err
		}
		closeDB = func() {
			wait, cancel := context.WithTimeout(context.WithoutCancel(ctx), 5*time.Second)
			defer cancel()
			if n, err := store.Others(wait, c.AdminURL("postgres")); err == nil && n > 0 {
				return // another notchback is serving from it
			}
			if err := c.Stop(); err != nil {
				fmt.Fprintln(os.Stderr, "notchback: "+err.Error())
			}
		}
		admin, app = c.AdminURL("postgres"), c.AppURL(o.database)
		if o.fresh {
			n, err := store.Others(ctx, admin)
			if err == nil && n > 0 {
				err = errors.New("another notchback is serving from this database; stop it before loading the demo anew")
			}
			if err == nil {
				err = store.Drop(ctx, admin, o.database)
			}
			if err != nil {
				closeDB()
				return nil, nil, err
			}
		}
		if err := store.Prepare(ctx, admin, o.database, c.AppPassword()); err != nil {
			closeDB()
			return nil, nil, err
		}
	} else {
		u, err := url.Parse(admin)
		if err != nil {
			return nil, nil, fmt.Errorf("database-url: %w", err)
		}
		password := cluster.Secret()
		if err := store.Prepare(ctx, admin, o.database, password); err != nil {
			return nil, nil, err
		}
		u.User, u.Path = url.UserPassword("notchback_app", password), "/"+o.database
		app = u.String()
	}
	s, err := store.Open(ctx, app)
	if err != nil {
		closeDB()
		return nil, nil, err
	}
	return s, func() { s.Close(); closeDB() }, nil
}

func serve(ctx context.Context, o options, withDemo bool) error {
	listener, err := listen(o.bind, withDemo)
	if err != nil {
		return err
	}
	defer listener.Close()
	s, closeDB, err := database(ctx, o)
	if err != nil {
		return err
	}
	defer closeDB()
	desk := &job.Desk{Store: s, Now: time.Now}
	scheme := "http"
	if o.cert != "" {
		scheme = "https"
	}
	local := scheme + "://" + listener.Addr().String()
	if o.public == "" {
		o.public = local
	}
	log := slog.New(slog.DiscardHandler)
	if o.verbose {
		log = slog.New(slog.NewTextHandler(os.Stderr, nil))
	}
	if withDemo {
		loaded, err := demo.Load(ctx, desk)
		if err != nil {
			return fmt.Errorf("loading the demo club: %w", err)
		}
		if loaded {
			fmt.Println("The demo club is loaded.")
		}
	}
	srv := &http.Server{
		Handler:           api.New(desk, api.Config{PublicURL: o.public, Secure: scheme == "https" || o.proxy != "", TrustedProxy: o.proxy, Web: web.Pages(), Log: log, Inclinometer: standin.Demo()}),
		ReadHeaderTimeout: 10 * time.Second, ReadTimeout: 30 * time.Second, WriteTimeout: 60 * time.Second, IdleTimeout: 2 * time.Minute,
	}
	fmt.Printf("\nNotchback is at %s\n", o.public)
	if withDemo {
		fmt.Printf("Sign in with    %s\nPassword        %s\n", demo.Email, demo.Password)
	}
	fmt.Println("Ctrl-C stops it.")
	failed := make(chan error, 1)
	go func() {
		if o.cert != "" {
			srv.TLSConfig = &tls.Config{MinVersion: tls.VersionTLS12}
			failed <- srv.ServeTLS(listener, o.cert, o.key)
			return
		}
		failed <- srv.Serve(listener)
	}()
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	fmt.Println("Stopping.")
	wait, cancel := context.WithTimeout(context.WithoutCancel(ctx), 10*time.Second)
	defer cancel()
	return srv.Shutdown(wait)
}

// listen takes the address; the demo takes the next free port when it is taken.
func listen(bind string, next bool) (net.Listener, error) {
	l, err := net.Listen("tcp", bind)
	host, port, _ := net.SplitHostPort(bind)
	n, _ := strconv.Atoi(port)
	for i := 1; err != nil && next && errors.Is(err, syscall.EADDRINUSE) && i < 50; i++ {
		l, err = net.Listen("tcp", net.JoinHostPort(host, strconv.Itoa(n+i)))
		if err == nil {
			fmt.Printf("Port %s is taken; using %d.\n", port, n+i)
		}
	}
	if errors.Is(err, syscall.EADDRINUSE) {
		return nil, fmt.Errorf("%s is taken by another program; choose another with -bind", bind)
	}
	if err != nil {
		return nil, fmt.Errorf("listening on %s: %w", bind, err)
	}
	return l, nil
}

// administer creates a practice, or a one-time code for a coach who forgot the password.
func administer(ctx context.Context, o options, what string, args []string) error {
	if what == "practice" && len(args) != 3 {
		return errors.New(`say: ./notchback practice "Practice" "Coach" coach@example.org`)
	}
	if what == "code" && len(args) != 1 {
		return errors.New(`say: ./notchback code coach@example.org`)
	}
	s, closeDB, err := database(ctx, o)
	if err != nil {
		return err
	}
	defer closeDB()
	email := args[len(args)-1]
	if what == "practice" {
		if _, _, err := s.CreatePractice(ctx, args[0], args[1], email); err != nil {
			if errors.Is(err, store.ErrTaken) {
				return fmt.Errorf("%s already belongs to a coach", email)
			}
			return err
		}
	}
	a, err := s.Account(ctx, email)
	if errors.Is(err, store.ErrNotFound) {
		return fmt.Errorf("there is no coach %s", email)
	}
	if err != nil {
		return err
	}
	return s.In(ctx, a.Practice, func(tx *store.Tx) error {
		code, err := tx.AddCode(ctx, a.ID)
		if err == nil {
			fmt.Printf("One-time code for %s, good for a day: %s\nOpen the sign-in page, choose “I have a code”, and set a password.\n", email, code)
		}
		return err
	})
}
