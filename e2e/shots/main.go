// Command shots takes the pictures of docs/screenshots from a running demo:
// go run ./e2e/shots -url http://127.0.0.1:8080 -out docs/screenshots
package main

import (
	"flag"
	"os"
	"path/filepath"
	"strings"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"

	"notchback/e2e/browser"
	"notchback/internal/demo"
)

func main() {
	url := flag.String("url", "http://127.0.0.1:8080", "running demo")
	out := flag.String("out", "docs/screenshots", "folder for the pictures")
	only := flag.String("only", "", "names to take, with commas; empty: all")
	dark := flag.Bool("dark", false, "take them in the dark theme")
	full := flag.Bool("full", false, "the whole page, not the first screen")
	flag.Parse()
	b, done, err := browser.Start()
	if err != nil {
		panic(err)
	}
	defer done()
	wanted := func(name string) bool { return *only == "" || strings.Contains(","+*only+",", ","+name+",") }
	take := func(p *rod.Page, name string) {
		if !wanted(name) {
			return
		}
		img, err := p.Screenshot(*full, &proto.PageCaptureScreenshot{Format: proto.PageCaptureScreenshotFormatPng})
		if err != nil {
			panic(err)
		}
		if err := os.WriteFile(filepath.Join(*out, name+".png"), img, 0o644); err != nil {
			panic(err)
		}
	}
	p := browser.Open(b, *url+"/sign-in", 1280, 800)
	if *dark {
		p.MustEval(`() => localStorage.setItem("theme", "dark")`)
		p.MustReload()
	}
	p.MustElementR("button", "Sign in")
	take(p, "sign-in")
	p.MustElement(`input[type=email]`).MustInput(demo.Email)
	p.MustElement(`input[type=password]`).MustInput(demo.Password)
	p.MustElementR("button", "Sign in").MustClick()
	p.MustElementR("h1", "Today")
	p.MustElement("ol li")
	p.MustElementR("[role=button]", "first steps up").MustFocus()
	take(p, "today")
	runner := func(name, step, ready string) {
		p.MustNavigate(*url + "/runners")
		p.MustElementR("a", name).MustClick()
		p.MustElementR("nav a", step).MustClick()
		p.MustElementR("h1, h2", ready)
	}
	visit := func(shot, name, step, ready string, then func()) {
		if !wanted(shot) {
			return
		}
		runner(name, step, ready)
		if then != nil {
			then()
		}
		take(p, shot)
	}
	p.MustNavigate(*url + "/runners")
	p.MustElement("table")
	take(p, "runners")
	visit("intake", "Odile", "Intake", "Symptoms", nil)
	visit("stop", "Hale", "Intake", "Symptoms", nil)
	visit("read", "Odile", "Read", "Read", func() { p.MustElementR("[role=button]", "score").MustFocus() })
	visit("build", "Ines", "Build", "Build", func() { p.MustElementR("[role=button]", "×").MustFocus() })
	visit("week", "Ines", "Week", "Week", nil)
	visit("adjust", "Odile", "Adjust", "Ankle", func() { p.MustElementR("[role=button]", "first steps up").MustFocus() })
	visit("screen", "Kit", "Screen", "Screen|Knee to wall", func() {
		if has, el, _ := p.HasR("button", "Start a screen"); has {
			el.MustClick()
		}
		p.MustElementR("h1", "Knee to wall")
		if has, _, _ := p.HasR("span", "^7.5$"); !has {
			for _, v := range []struct{ side, fig string }{{"left", "7"}, {"left", "7.5"}, {"left", "7.5"}, {"right", "10"}, {"right", "10.5"}, {"right", "11"}} {
				n := len(p.MustElements(`button[aria-label^="Remove"]`))
				p.MustElement(`input[aria-label*=", ` + v.side + `,"]`).MustInput(v.fig).MustType('\r')
				p.MustWait(`n => document.querySelectorAll('button[aria-label^="Remove"]').length > n`, n)
			}
		}
		p.MustEval(`() => window.scrollTo(0, 0)`)
	})
	visit("raises", "Kit", "Screen", "Screen|Knee to wall", func() {
		p.MustElementR("button", "Heel raises").MustClick()
		p.MustElementR("h1", "Heel raises")
	})
	visit("toe", "Kit", "Screen", "Screen|Knee to wall", func() {
		p.MustElementR("button", "Big toe").MustClick()
		p.MustElementR("h1", "Big toe")
	})
	p.MustNavigate(*url + "/house")
	p.MustElementR("h1", "House")
	p.MustElement("li")
	take(p, "house-rules")
	p.MustNavigate(*url + "/practice")
	p.MustElementR("h2", "Invite")
	take(p, "practice")
	if !wanted("phone") && !wanted("link") && !wanted("phone-session") && !wanted("phone-signs") {
		return
	}
	runner("Aud", "Intake", "Private link")
	p.MustElementR("button", "Make a private link").MustClick()
	link := p.MustElementR("p.fig", "/phone#").MustText()
	p.MustElementR("p.fig", "/phone#").MustScrollIntoView()
	take(p, "link")
	ph := browser.Open(b, link, 390, 844)
	if *dark {
		ph.MustEval(`() => localStorage.setItem("theme", "dark")`)
		ph.MustReload()
	}
	ph.MustElementR("h2", "Session")
	take(ph, "phone")
	if has, el, _ := ph.HasR("button", "^Start$"); has {
		el.MustClick()
		ph.MustElementR("button", "as planned").MustClick()
		ph.MustElementR("h3", ".").MustScrollIntoView()
		take(ph, "phone-session")
	}
	ph.MustElementR("button", "Anything new or odd").MustClick()
	ph.MustElementR("h2", "Is any of these so")
	take(ph, "phone-signs")
}
