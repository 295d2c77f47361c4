// Command shots takes the pictures of docs/screenshots from a running demo:
// go run ./e2e/shots -url http://127.0.0.1:8080 -out docs/screenshots
package main

import (
	"flag"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"notchback/e2e/browser"
	"notchback/internal/demo"
	"notchback/internal/standin"
)

// shooter has a browser signed in to a running demo.
type shooter struct {
	browser *rod.Browser
	page    *rod.Page
	url     string
	out     string
	only    string
	dark    bool
	full    bool
}

func main() {
	s := &shooter{}
	flag.StringVar(&s.url, "url", "http://127.0.0.1:8080", "running demo")
	flag.StringVar(&s.out, "out", "docs/screenshots", "folder for the pictures")
	flag.StringVar(&s.only, "only", "", "names to take, with commas; empty: all")
	flag.BoolVar(&s.dark, "dark", false, "take them in the dark theme")
	flag.BoolVar(&s.full, "full", false, "the whole page, not the first screen")
	flag.Parse()
	b, done, err := browser.Start()
	if err != nil {
		panic(err)
	}
	defer done()
	s.browser = b
	s.signIn()
	s.rooms()
	s.plan()
	s.stations()
	s.clips()
	s.library()
	s.house()
	s.stopped()
	s.phone()
	s.check()
	s.bare()
}

func (s *shooter) wanted(name string) bool {
	return s.only == "" || strings.Contains(","+s.only+",", ","+name+",")
}

// take keeps a picture of a page if it is wanted.
func (s *shooter) take(p *rod.Page, name string) {
	if !s.wanted(name) {
		return
	}
	img, err := p.Screenshot(s.full, &proto.PageCaptureScreenshot{Format: proto.PageCaptureScreenshotFormatPng})
	if err != nil {
		panic(err)
	}
	if err := os.WriteFile(filepath.Join(s.out, name+".png"), img, 0o644); err != nil {
		panic(err)
	}
}

// runner opens a step of a runner's job.
func (s *shooter) runner(name, step, ready string) {
	s.page.MustNavigate(s.url + "/runners")
	s.page.MustElementR("a", name).MustClick()
	s.page.MustElementR("nav a", step).MustClick()
	s.page.MustElementR("h1, h2", ready)
}

// visit takes a picture of a step of a runner's job, if it is wanted.
func (s *shooter) visit(shot, name, step, ready string, then func()) {
	if !s.wanted(shot) {
		return
	}
	s.runner(name, step, ready)
	if then != nil {
		then()
	}
	s.take(s.page, shot)
}

func (s *shooter) signIn() {
	p := browser.Open(s.browser, s.url+"/sign-in", 1280, 800)
	s.page = p
	if s.dark {
		p.MustEval(`() => localStorage.setItem("theme", "dark")`)
		p.MustReload()
	}
	p.MustElementR("button", "Sign in")
	s.take(p, "sign-in")
	p.MustElement(`input[type=email]`).MustInput(demo.Email)
	p.MustElement(`input[type=password]`).MustInput(demo.Password)
	p.MustElementR("button", "Sign in").MustClick()
	p.MustElementR("h1", "Today")
	p.MustElement("ol li")
	p.MustElementR("[role=button]", "mornings running").MustFocus()
	s.take(p, "today")
}

// rooms are the steps up to the programme.
func (s *shooter) rooms() {
	p := s.page
	p.MustNavigate(s.url + "/runners")
	p.MustElement("table")
	s.take(p, "runners")
	s.visit("intake", "Odile", "Intake", "Where it hurts", func() {
		p.MustElementR("h2",
			"Where it hurts").MustEval(`() => this.scrollIntoView({block: "start"})`)
	})
	s.visit("form", "Kit", "Intake", "Where it hurts", nil)
	s.visit("stop", "Hale", "Intake", "Where it hurts", nil)
	s.visit("clearance", "Hale", "Intake", "Where it hurts", func() {
		p.MustElementR("button", "Record a clearance").MustClick()
		p.MustElementR("legend", "What is opened").MustEval(`() => this.closest("[role=alert]").scrollIntoView({block: "start"})`)
	})
	s.visit("read", "Odile", "Read", "Read", func() { p.MustElementR("[role=button]", "score").MustFocus() })
	s.visit("build", "Ines", "Build", "Build", func() { p.MustElementR("[role=button]", "×").MustFocus() })
	s.visit("build-by-hand", "Bram", "Build", "Build", func() {
		p.MustElementR("button", "^Change$").MustClick()
		p.MustElementR("legend", "Exercises left out")
	})
	s.visit("build-compare", "Ines", "Build", "Build", func() {
		p.MustElementR("button", "Put this draft aside").MustClick()
		p.MustElementR("button", "^Leave out$").MustClick()
		p.MustElementR("td", "not in it").MustEval(`() => this.closest("section").scrollIntoView({ block: "center" })`)
	})
}

// plan is the programme as it is trained, moved and handed out.
func (s *shooter) plan() {
	p := s.page
	s.visit("week", "Ines", "Week", "Week", nil)
	s.visit("week-move", "Ines", "Week", "Week", func() {
		p.MustElementR("table button", "Ankle").MustFocus()
		p.Keyboard.MustType(input.Enter)
		p.MustElement("td.hatched")
		p.Keyboard.MustType(input.ArrowRight)
		p.MustElementR("[role=status]", "Tuesday is a run day")

	})
	s.visit("week-race", "Marek", "Week", "Week", nil)
	s.visit("hand-out", "Ines", "Week", "Week", func() {
		p.MustElementR("a", "Print the week").MustClick()
		p.MustElementR("h2", "The exercises")
	})
	s.visit("load", "Marek", "Load", "From files", func() {
		s.page.MustElement("input[type=file]").MustSetFiles(outings()...)
		s.page.MustElementR("button", "^Add ")
		s.page.MustElement(`section[aria-label="History"] svg`)
		s.page.MustEval(`() => window.scrollTo(0, document.querySelector('section[aria-label="Weeks of running"]').offsetTop - 20)`)
	})
	s.visit("adjust", "Odile", "Adjust", "Ankle", func() { p.MustElementR("[role=button]", "mornings running").MustFocus() })
	s.visit("barefoot", "Noor", "Barefoot", "The gate", nil)
	s.visit("barefoot-back", "Runa", "Barefoot", "The gate", nil)
	s.visit("barefoot-arch", "Marek", "Barefoot", "The gate", func() {
		p.MustElementR("h2", "The gate").MustEval(`() => this.scrollIntoView({ block: "start" })`)
	})
	s.visit("barefoot-refused", "Hale", "Barefoot", "The gate", nil)
	s.visit("barefoot-shoes", "Jory", "Barefoot", "The gate", func() {
		p.MustElementR("h2", "Shoes").MustEval(`() => this.scrollIntoView({ block: "start" })`)
	})
	s.visit("barefoot-wish", "Wren", "Barefoot", "The gate", func() {
		p.MustElementR("h2", "Ahead").MustEval(`() => this.scrollIntoView({ block: "start" })`)
	})
	s.visit("barefoot-begin", "Ines", "Barefoot", "The gate", nil)
	s.visit("retest", "Odile", "Retest", "Retest", func() { p.MustElement("main li [role=button]").MustFocus() })
	s.visit("referral", "Hale", "Read", "Read", func() {
		p.MustElementR("a", "Referral note").MustClick()
		p.MustElementR("h2", "Warning signs")
	})
	s.visit("screen-start", "Ines", "Screen", "Screen", func() { p.MustElementR("button", "Start the|Keep the answers|No to the rest") })
}

func (s *shooter) library() {
	p := s.page
	p.MustNavigate(s.url + "/library")
	p.MustElementR("h2", "Prepare")
	s.take(p, "library")
	if s.wanted("library-rail") {
		p.MustElementR("button", "^Toe-extended").MustClick()
		p.MustElementR("h3", "Toes on a roll").MustEval(`() => this.closest("section").scrollIntoView({ block: "start" })`)
		s.take(p, "library-rail")
	}
	if s.wanted("library-edit") {
		p.MustElementR("button", "^Balance").MustClick()
		p.MustElementR("button", "Change for our practice").MustClick()
		p.MustElementR("h2", "Exercises, easiest first")
		s.take(p, "library-edit")
	}
}

func (s *shooter) house() {
	p := s.page
	p.MustNavigate(s.url + "/house")
	p.MustElementR("h1", "House")
	p.MustElement("li")
	s.take(p, "house-rules")
	if s.wanted("house-error") {
		p.MustElement(`section[aria-label="Your own measurement error"] button`).MustEval(`() => this.closest("section").scrollIntoView({
			block: "center" })`)
		s.take(p, "house-error")
	}
	if s.wanted("house-effect") {
		p.MustElement(`input[aria-label="Knee-to-wall reference"]`).MustSelectAllText().MustInput("8")
		p.MustElementR("button", "What would change").MustClick()
		p.MustElementR("p", "findings change").MustScrollIntoView()
		s.take(p, "house-effect")
	}
	p.MustNavigate(s.url + "/practice")
	p.MustElementR("h2", "Invite")
	s.take(p, "practice")
}

// onPhone opens a runner's page by a new private link.
func (s *shooter) onPhone(runner string) *rod.Page {
	s.runner(runner, "Intake", "Private link")
	s.page.MustElementR("button", "Make a private link").MustClick()
	ph := browser.Open(s.browser, s.page.MustElementR("p.fig", "/phone#").MustText(), 390, 844)
	if s.dark {
		ph.MustEval(`() => localStorage.setItem("theme", "dark")`)
		ph.MustReload()
	}
	return ph
}

// stopped is the page of a runner under a warning sign.
func (s *shooter) stopped() {
	if s.wanted("phone-stop") {
		ph := s.onPhone("Hale")
		ph.MustElementR("strong", "Stop")
		s.take(ph, "phone-stop")
	}
}

// check is the self-check of a runner who is at home.
func (s *shooter) check() {
	if !s.wanted("phone-check") {
		return
	}
	ph := s.onPhone("Tomas")
	ph.MustElementR("button", "^Self-check").MustClick()
	ph.MustElementR("[role=dialog] button", "^No, begin$").MustClick()
	ph.MustElementR("[role=dialog] h2", "Bounce")
	s.take(ph, "phone-check")
}

// bare is the phone of a runner who walks on bare feet.
func (s *shooter) bare() {
	if !s.wanted("phone-bare") && !s.wanted("phone-bare-entry") {
		return
	}
	ph := s.onPhone("Noor")
	ph.MustElementR("h2", "Bare feet").MustEval(`() => this.closest("section").scrollIntoView({ block: "start" })`)
	s.take(ph, "phone-bare")
	ph.MustElementR("button", "Enter how it went").MustClick()
	ph.MustElementR("p", "skin of the soles")
	ph.MustElementR("h2", "Bare feet").MustEval(`() => this.closest("section").scrollIntoView({ block: "start" })`)
	s.take(ph, "phone-bare-entry")
}

func (s *shooter) phone() {
	p := s.page
	if !s.wanted("phone") && !s.wanted("link") && !s.wanted("phone-session") && !s.wanted("phone-signs") && !s.wanted("phone-intake") &&
		!s.wanted("phone-map") {
		return
	}
	ph := s.onPhone("Aud")
	p.MustElementR("p.fig", "/phone#").MustScrollIntoView()
	s.take(p, "link")
	ph.MustElementR("h2", "Session")
	s.take(ph, "phone")
	if has, el, _ := ph.HasR("button", "^Start the session"); has && s.wanted("phone-session") {
		el.MustClick()
		ph.MustElementR("[role=dialog] button", "^Start$").MustClick()
		time.Sleep(8 * time.Second) // some seconds into the first set
		s.take(ph, "phone-session")
		ph.MustElementR("[role=dialog] button", "Put aside").MustClick()
	}
	if s.wanted("phone-intake") || s.wanted("phone-map") {
		ph.MustNavigate(s.url + "/phone/intake")
		ph.MustElementR("h2", "Where it hurts")
		s.take(ph, "phone-intake")
		ph.MustElementR("h2", "Where it hurts").MustEval(`() => this.scrollIntoView({block: "start"})`)
		s.take(ph, "phone-map")
		return
	}
	ph.MustElementR("button", "Anything new or odd").MustClick()
	ph.MustElementR("h2", "Is any of these so")
	s.take(ph, "phone-signs")
}

// clips pictures the gait room, the bench with a marked clip, its points, and two clips side by side.
func (s *shooter) clips() {
	p := s.page
	if !s.wanted("gait") && !s.wanted("bench") && !s.wanted("bench-points") && !s.wanted("bench-rear") && !s.wanted("compare") &&
		!s.wanted("films") &&
		!s.wanted("bench-open") {
		return
	}
	s.runner("Tomas", "Gait", "Gait|Cadence")
	p.MustElementR("h2", "Kept clips")
	p.MustWait(`() => [...document.images].every((i) => i.complete)`)
	s.take(p, "gait")
	open := func(name string) {
		p.MustElementR("button", "Practise").MustClick()
		p.MustElementR("li button", name).MustClick()
		p.MustWait(`() => !!document.querySelector("canvas[data-frame='0']")`)
	}
	if s.wanted("films") {
		p.MustElementR("button", "Practise").MustClick()
		p.MustElementR("li button", "rear-120")
		s.take(p, "films")
		return
	}
	if s.wanted("bench-open") {
		p.MustElement("input[type=file]").MustSetFiles("internal/standin/clips/mid-240.mp4")
		p.MustWait(`() => !!document.querySelector("canvas[data-frame='0']")`)
		s.take(p, "bench-open")
		return
	}
	if s.wanted("bench-rear") {
		open("rear-120")
		s.take(p, "bench-rear")
		return
	}
	open("heel-240")
	p.MustElementR("p", "Cadence")
	p.MustEval(`() => document.activeElement.blur()`)
	p.Keyboard.MustType(input.ArrowDown)
	p.MustWait(`() => !document.querySelector("canvas[data-frame='0']")`)
	if s.wanted("bench") {
		p.MustElement(`[data-figure="contact.side both"] [role=button]`).MustFocus()
		s.take(p, "bench")
	}
	if s.wanted("bench-points") {
		p.MustElementR(`section[aria-label=Stills] button`, "landing").MustClick()
		p.MustElementR("button", "keep this picture|Drop this still")
		p.MustElement(`[data-figure="strike left"] [role=button]`).MustFocus()
		p.MustEval(`() => window.scrollTo(0, 0)`)
		s.take(p, "bench-points")
	}
	if s.wanted("compare") {
		p.MustElementR("button", "^Compare$").MustClick()
		p.MustElementR("button", "Practise").MustClick()
		p.MustElementR("li button", "uneven-240").MustClick()
		p.MustElement(`table[aria-label=Differences] tbody tr`)
		p.MustWait(`() => document.querySelectorAll("canvas").length === 2 && [...document.querySelectorAll("canvas")].every((c) =>
			Number(c.dataset.frame) > 0)`)
		p.MustEval(`() => window.scrollTo(0, 0)`)
		s.take(p, "compare")
	}
}

// stations takes Kit through a full screen and pictures each station.
func (s *shooter) stations() {
	p := s.page
	any := s.wanted("screen")
	names := []string{"Feet at rest", "Walks", "Gait", "Ankle", "Big toe", "Toe control", "Balance", "Reach", "Squat", "Holds", "Heel raises",
		"Strength"}
	shot := func(station string) string {
		return map[string]string{"Ankle": "screen"}[station]
	}
	for _, n := range names {
		any = any || s.wanted("station-"+strings.ToLower(strings.ReplaceAll(n, " ", "-")))
	}
	if !any {
		return
	}
	s.runner("Kit", "Screen", "Screen|Feet|Ankle")
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
		if !s.wanted(name) && (shot(n) == "" || !s.wanted(shot(n))) {
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
		s.take(p, name)
		if shot(n) != "" {
			s.take(p, shot(n))
		}
	}
}

// outings are files of a simulated watch: two runs, one of them twice, and a file that is cut short.
func outings() []string {
	dir, err := os.MkdirTemp("", "outings-")
	if err != nil {
		panic(err)
	}
	day := time.Now().UTC().Truncate(24 * time.Hour)
	a := standin.Outing{Start: day.Add(-41 * time.Hour), Legs: []standin.Leg{{Seconds: 2400, Speed: 2.7, Cadence: 168, Rise: 30}}}
	b := standin.Outing{Start: day.Add(-90 * time.Hour), Count: 0.5, Legs: []standin.Leg{{Seconds: 3300, Speed: 2.9, Cadence: 172}}}
	names := []string{}
	for name, data := range map[string][]byte{"morning.fit": a.FIT(), "morning.gpx": a.GPX(), "causeway.tcx": b.TCX(),
		"cut.fit": b.FIT()[:600]} {
		names = append(names, filepath.Join(dir, name))
		if err := os.WriteFile(names[len(names)-1], data, 0o600); err != nil {
			panic(err)
		}
	}
	return names
}
