// Command shots takes the pictures of docs/screenshots from a running demo:
// go run ./e2e/shots -url http://127.0.0.1:8080 -out docs/screenshots
package main

import (
	"flag"
	"os"
	"path/filepath"
	"strings"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
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
	p.MustElementR("[role=button]", "mornings running").MustFocus()
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
	visit("intake", "Odile", "Intake", "Where it hurts", func() {
		p.MustElementR("h2",
			"Where it hurts").MustEval(`() => this.scrollIntoView({block: "start"})`)
	})
	visit("form", "Kit", "Intake", "Where it hurts", nil)
	visit("stop", "Hale", "Intake", "Where it hurts", nil)
	visit("clearance", "Hale", "Intake", "Where it hurts", func() {
		p.MustElementR("button", "Record a clearance").MustClick()
		p.MustElementR("legend", "What is opened").MustEval(`() => this.closest("[role=alert]").scrollIntoView({block: "start"})`)
	})
	visit("read", "Odile", "Read", "Read", func() { p.MustElementR("[role=button]", "score").MustFocus() })
	visit("build", "Ines", "Build", "Build", func() { p.MustElementR("[role=button]", "×").MustFocus() })
	visit("build-by-hand", "Bram", "Build", "Build", func() {
		p.MustElementR("button", "^Change$").MustClick()
		p.MustElementR("legend", "Exercises left out")
	})
	visit("build-compare", "Ines", "Build", "Build", func() {
		p.MustElementR("button", "Put this draft aside").MustClick()
		p.MustElementR("button", "^Leave out$").MustClick()
		p.MustElementR("td", "not in it").MustEval(`() => this.closest("section").scrollIntoView({ block: "center" })`)
	})
	visit("week", "Ines", "Week", "Week", nil)
	visit("week-move", "Ines", "Week", "Week", func() {
		p.MustElementR("table button", "Ankle").MustFocus()
		p.Keyboard.MustType(input.Enter)
		p.MustElement("td.hatched")
		p.Keyboard.MustType(input.ArrowLeft)
		p.MustElementR("[role=status]", "Tuesday is a run day")

	})
	visit("week-race", "Marek", "Week", "Week", nil)
	visit("hand-out", "Ines", "Week", "Week", func() {
		p.MustElementR("a", "Print the week").MustClick()
		p.MustElementR("h2", "The exercises")
	})
	visit("adjust", "Odile", "Adjust", "Ankle", func() { p.MustElementR("[role=button]", "mornings running").MustFocus() })
	visit("retest", "Odile", "Retest", "Retest", func() { p.MustElement("main li [role=button]").MustFocus() })
	visit("referral", "Hale", "Read", "Read", func() {
		p.MustElementR("a", "Referral note").MustClick()
		p.MustElementR("h2", "Warning signs")
	})
	visit("screen-start", "Ines", "Screen", "Screen", func() { p.MustElementR("button", "Start the|Keep the answers|No to the rest") })
	stations(p, wanted, runner, take)
	clips(p, wanted, runner, take)
	p.MustNavigate(*url + "/library")
	p.MustElementR("h2", "Prepare")
	take(p, "library")
	if wanted("library-rail") {
		p.MustElementR("button", "^Toe-extended").MustClick()
		p.MustElementR("h3", "Toes on a roll").MustEval(`() => this.closest("section").scrollIntoView({ block: "start" })`)
		take(p, "library-rail")
	}
	if wanted("library-edit") {
		p.MustElementR("button", "^Balance").MustClick()
		p.MustElementR("button", "Change for our practice").MustClick()
		p.MustElementR("h2", "Exercises, easiest first")
		take(p, "library-edit")
	}
	p.MustNavigate(*url + "/house")
	p.MustElementR("h1", "House")
	p.MustElement("li")
	take(p, "house-rules")
	if wanted("house-error") {
		p.MustElement(`section[aria-label="Your own measurement error"] button`).MustEval(`() => this.closest("section").scrollIntoView({
			block: "center" })`)
		take(p, "house-error")
	}
	if wanted("house-effect") {
		p.MustElement(`input[aria-label="Knee-to-wall reference"]`).MustSelectAllText().MustInput("8")
		p.MustElementR("button", "What would change").MustClick()
		p.MustElementR("p", "findings change").MustScrollIntoView()
		take(p, "house-effect")
	}
	p.MustNavigate(*url + "/practice")
	p.MustElementR("h2", "Invite")
	take(p, "practice")
	if wanted("phone-stop") {
		runner("Hale", "Intake", "Private link")
		p.MustElementR("button", "Make a private link").MustClick()
		ph := browser.Open(b, p.MustElementR("p.fig", "/phone#").MustText(), 390, 844)
		ph.MustElementR("strong", "Stop")
		take(ph, "phone-stop")
	}
	if !wanted("phone") && !wanted("link") && !wanted("phone-session") && !wanted("phone-signs") && !wanted("phone-intake") &&
		!wanted("phone-map") {
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
	if wanted("phone-intake") || wanted("phone-map") {
		ph.MustNavigate(*url + "/phone/intake")
		ph.MustElementR("h2", "Where it hurts")
		take(ph, "phone-intake")
		ph.MustElementR("h2", "Where it hurts").MustEval(`() => this.scrollIntoView({block: "start"})`)
		take(ph, "phone-map")
		return
	}
	ph.MustElementR("button", "Anything new or odd").MustClick()
	ph.MustElementR("h2", "Is any of these so")
	take(ph, "phone-signs")
}

// clips pictures the gait room, the bench with a marked clip, its points, and two clips side by side.
func clips(p *rod.Page, wanted func(string) bool, runner func(name, step, ready string), take func(*rod.Page, string)) {
	if !wanted("gait") && !wanted("bench") && !wanted("bench-points") && !wanted("bench-rear") && !wanted("compare") && !wanted("films") &&
		!wanted("bench-open") {
		return
	}
	runner("Tomas", "Gait", "Gait|Cadence")
	p.MustElementR("h2", "Kept clips")
	p.MustWait(`() => [...document.images].every((i) => i.complete)`)
	take(p, "gait")
	open := func(name string) {
		p.MustElementR("button", "Practise").MustClick()
		p.MustElementR("li button", name).MustClick()
		p.MustWait(`() => !!document.querySelector("canvas[data-frame='0']")`)
	}
	if wanted("films") {
		p.MustElementR("button", "Practise").MustClick()
		p.MustElementR("li button", "rear-120")
		take(p, "films")
		return
	}
	if wanted("bench-open") {
		p.MustElement("input[type=file]").MustSetFiles("internal/standin/clips/mid-240.mp4")
		p.MustWait(`() => !!document.querySelector("canvas[data-frame='0']")`)
		take(p, "bench-open")
		return
	}
	if wanted("bench-rear") {
		open("rear-120")
		take(p, "bench-rear")
		return
	}
	open("heel-240")
	p.MustElementR("p", "Cadence")
	p.MustEval(`() => document.activeElement.blur()`)
	p.Keyboard.MustType(input.ArrowDown)
	p.MustWait(`() => !document.querySelector("canvas[data-frame='0']")`)
	if wanted("bench") {
		p.MustElement(`[data-figure="contact.side both"] [role=button]`).MustFocus()
		take(p, "bench")
	}
	if wanted("bench-points") {
		p.MustElementR(`section[aria-label=Stills] button`, "landing").MustClick()
		p.MustElementR("button", "keep this picture|Drop this still")
		p.MustElement(`[data-figure="strike left"] [role=button]`).MustFocus()
		p.MustEval(`() => window.scrollTo(0, 0)`)
		take(p, "bench-points")
	}
	if wanted("compare") {
		p.MustElementR("button", "^Compare$").MustClick()
		p.MustElementR("button", "Practise").MustClick()
		p.MustElementR("li button", "uneven-240").MustClick()
		p.MustElement(`table[aria-label=Differences] tbody tr`)
		p.MustWait(`() => document.querySelectorAll("canvas").length === 2 && [...document.querySelectorAll("canvas")].every((c) =>
			Number(c.dataset.frame) > 0)`)
		p.MustEval(`() => window.scrollTo(0, 0)`)
		take(p, "compare")
	}
}

// stations takes Kit through a full screen and pictures each station.
func stations(p *rod.Page, wanted func(string) bool, runner func(name, step, ready string), take func(*rod.Page, string)) {
	any := wanted("screen")
	names := []string{"Feet at rest", "Walks", "Gait", "Ankle", "Big toe", "Toe control", "Balance", "Reach", "Squat", "Holds", "Heel raises",
		"Strength"}
	shot := func(station string) string {
		return map[string]string{"Ankle": "screen"}[station]
	}
	for _, n := range names {
		any = any || wanted("station-"+strings.ToLower(strings.ReplaceAll(n, " ", "-")))
	}
	if !any {
		return
	}
	runner("Kit", "Screen", "Screen|Feet|Ankle")
	p.MustElementR("button", "No to the rest|Start the|Station|Next station")
	if has, el, _ := p.HasR("button", "No to the rest"); has {
		el.MustClick()
		p.MustElementR("button", "Keep the answers").MustClick()
	}
	if has, _, _ := p.HasR("button", "Next station"); !has {
		p.MustElementR("button", "Full screen").MustClick()
		p.MustElementR("button", "Start the full").MustClick()
	}
	p.MustElementR("h1", "Feet at rest")
	for _, n := range names {
		name := "station-" + strings.ToLower(strings.ReplaceAll(n, " ", "-"))
		if !wanted(name) && (shot(n) == "" || !wanted(shot(n))) {
			continue
		}
		p.MustElementR("nav button", n).MustClick()
		p.MustElementR("h1", n)
		if n == "Ankle" {
			if has, _, _ := p.HasR("span", "^7.5 cm$"); !has {
				for _, v := range []struct{ side, fig string }{{"left", "7"}, {"left", "7.5"}, {"left", "7.5"}, {"right", "10"}, {"right", "10.5"},
					{"right", "11"}} {
					k := len(p.MustElements(`button[aria-label^="Remove"]`))
					p.MustElement(`input[aria-label^="Knee to wall, ` + v.side + `,"]`).MustInput(v.fig).MustType('\r')
					p.MustWait(`n => document.querySelectorAll('button[aria-label^="Remove"]').length > n`, k)
				}
			}
		}
		p.MustEval(`() => { document.activeElement.blur(); window.scrollTo(0, 0); }`)
		take(p, name)
		if shot(n) != "" {
			take(p, shot(n))
		}
	}
}
