// Package browser starts Debian's headless Chromium for the tests and the pictures.
package browser

import (
	"fmt"
	"os"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/proto"
)

// Start launches a browser with its own profile; close ends it and removes the profile.
func Start() (b *rod.Browser, close func(), err error) {
	dir, err := os.MkdirTemp("", "notchback-chromium-")
	if err != nil {
		return nil, nil, err
	}
	l := launcher.New().Bin("/usr/bin/chromium").NoSandbox(true).UserDataDir(dir).Leakless(false).
		Set("disable-gpu").Set("disable-quic").Set("no-first-run").Set("disable-background-networking").
		Set("disable-component-update").Set("disable-sync").Set("autoplay-policy", "no-user-gesture-required")
	url, err := l.Launch()
	if err != nil {
		return nil, nil, fmt.Errorf("starting /usr/bin/chromium: %w", err)
	}
	b = rod.New().ControlURL(url)
	if err := b.Connect(); err != nil {
		return nil, nil, err
	}
	return b, func() {
		_ = b.Close()
		l.Cleanup()
		_ = os.RemoveAll(dir)
	}, nil
}

// Open opens a page of the given size in a fresh incognito context.
func Open(b *rod.Browser, url string, width, height int) *rod.Page {
	p := b.MustIncognito().MustPage("")
	p = p.Timeout(5 * time.Minute) // of the whole visit
	p.MustSetViewport(width, height, 1, width < 500)
	if err := (proto.EmulationSetTimezoneOverride{TimezoneID: "Atlantic/Faroe"}).Call(p); err != nil {
		panic(err)
	}
	p.MustNavigate(url)
	return p
}
