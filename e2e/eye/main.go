// Command eye looks at the player's states; it is not kept.
package main

import (
	"flag"
	"os"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"

	"notchback/e2e/browser"
)

func main() {
	url := flag.String("url", "http://127.0.0.1:8080", "")
	who := flag.String("who", "Aud", "")
	w := flag.Int("w", 390, "")
	h := flag.Int("h", 844, "")
	dark := flag.Bool("dark", false, "")
	pre := flag.String("pre", "a", "")
	flag.Parse()
	b, done, err := browser.Start()
	if err != nil {
		panic(err)
	}
	defer done()
	println("open")
	p := browser.Open(b, *url+"/sign-in", 1280, 800)
	p.MustElement(`input[type="email"]`).MustInput("maren@tidegate.example")
	p.MustElement(`input[type="password"]`).MustInput("low-water-crossing")
	p.MustElementR("button", "Sign in").MustClick()
	p.MustElementR("h1", "Today")
	p.MustNavigate(*url + "/runners")
	p.MustElementR("a", *who).MustClick()
	p.MustElementR("nav a", "Intake").MustClick()
	p.MustElementR("button", "Make a private link").MustClick()
	println("link")
	link := p.MustElementR("p.fig", "/phone#").MustText()
	ph := browser.Open(b, link, *w, *h)
	if *dark {
		ph.MustEval(`() => localStorage.setItem("theme", "dark")`)
		ph.MustReload()
	}
	ph.MustElementR("h2", "Session")
	time.Sleep(700 * time.Millisecond)
	println("phone")
	n := 0
	take := func(name string, full bool) {
		img, err := ph.Screenshot(full, &proto.PageCaptureScreenshot{Format: proto.PageCaptureScreenshotFormatPng})
		if err != nil {
			panic(err)
		}
		n++
		os.WriteFile("/tmp/w/eye/"+*pre+"-"+name+".png", img, 0o644)
	}
	take("list", false)
	has, el, _ := ph.HasR("button", "Start: |Start the session")
	if !has {
		println("no session")
		return
	}
	el.MustClick()
	tap := func(words string) {
		x, err := ph.Timeout(20 * time.Second).ElementR("[role=dialog] button", words)
		if err != nil {
			println("missing", words)
			take("missing", false)
			return
		}
		x.MustClick()
	}
	ph.MustElementR("[role=dialog] button", "^Start$")
	take("ready", false)
	tap("^Start$")
	time.Sleep(800 * time.Millisecond)
	take("lead", false)
	time.Sleep(5 * time.Second)
	take("work", false)
	tap("^(Pause|Break)$")
	time.Sleep(200 * time.Millisecond)
	take("paused", false)
	tap("^Go on$")
	time.Sleep(3500 * time.Millisecond)
	tap("That")
	time.Sleep(500 * time.Millisecond)
	take("rest", false)
	tap("Sound")
	time.Sleep(200 * time.Millisecond)
	take("sound", false)
	tap("Sound")
	tap("Skip")
	time.Sleep(200 * time.Millisecond)
	take("skip", false)
	tap("no time")
	time.Sleep(400 * time.Millisecond)
	take("second", false)
	tap("Too much")
	time.Sleep(300 * time.Millisecond)
	take("much", false)
	tap("only too hard")
	time.Sleep(300 * time.Millisecond)
	for range 30 {
		if has, _, _ := ph.HasR("[role=dialog] h2", "How was"); has {
			break
		}
		if has, _, _ := ph.HasR("[role=dialog] button", "^Skip$"); !has {
			take("ask", false)
			tap("I cannot say")
			time.Sleep(300 * time.Millisecond)
			continue
		}
		tap("^Start$")
		time.Sleep(4500 * time.Millisecond)
		take("more", false)
		for range 9 {
			if has, b, _ := ph.HasR("[role=dialog] button", "That"); has {
				b.MustClick()
			}
			time.Sleep(120 * time.Millisecond)
			if has, b, _ := ph.HasR("[role=dialog] button", "Go on now"); has {
				b.MustClick()
				time.Sleep(150 * time.Millisecond)
			} else {
				break
			}
		}
		time.Sleep(300 * time.Millisecond)
	}
	take("end", false)
	if has, b, _ := ph.HasR("[role=dialog] fieldset button", "^3$"); has {
		b.MustClick()
		time.Sleep(300 * time.Millisecond)
		take("end3", true)
	}
	_ = rod.New
}
