package e2e

import (
	"net/http"
	"strings"
	"testing"

	"notchback/e2e/browser"
	"notchback/internal/testkit"
)

// Each page has its title, the page and the runner before the application.
func TestEveryPageHasItsTitle(t *testing.T) {
	w := start(t)
	runner := w.desk.Runner(t, testkit.Profile())
	p := w.signedIn()
	titled := func(page, title string) {
		t.Helper()
		until(t, p, "is the page "+page, `w => document.querySelector("main h1")?.innerText.trim().startsWith(w)`, page)
		until(t, p, "has the title "+title, `w => document.title === w`, title)
	}
	titled("Today", "Today · Notchback")
	for _, page := range [][2]string{{"Runners", "Runners"}, {"Library", "Library"}, {"House rules", "House rules"},
		{"Practice", "Test Practice"}} {
		choose(p, "nav a", "^"+page[0]+"$")
		titled(page[1], page[0]+" · Notchback")
	}
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/read")
	reads(t, p, "Referral note", "Runner ")
	name := p.MustElement("nav[aria-label='Steps of the job'] p").MustText()
	titled("Read", "Read · "+name+" · Notchback")
	choose(p, "nav a", "Week")
	titled("Week", "Week · "+name+" · Notchback")
	p.MustNavigate("http://" + w.addr + "/nowhere")
	until(t, p, "is no page", `() => document.title === "No such page · Notchback"`)
}

// A page that breaks says what to do, and the pages beside it go on.
func TestABrokenPageSaysWhatToDo(t *testing.T) {
	w := start(t)
	runner := w.desk.Runner(t, testkit.Profile())
	p := browser.Open(w.b, "http://"+w.addr+"/sign-in", 1280, 800) // one that may complain
	field(p, "E-mail").MustInput(email)
	field(p, "Password").MustInput(password)
	press(p, "^Sign in$")
	reads(t, p, "Today")
	w.down()
	w.before = func(next http.Handler) http.Handler {
		return http.HandlerFunc(func(rw http.ResponseWriter, r *http.Request) {
			if strings.HasSuffix(r.URL.Path, "/read") && strings.HasPrefix(r.URL.Path, "/api/") {
				rw.Header().Set("Content-Type", "application/json")
				_, _ = rw.Write([]byte("{}"))
				return
			}
			next.ServeHTTP(rw, r)
		})
	}
	w.up()
	p.MustNavigate("http://" + w.addr + "/runners/" + runner + "/read")
	reads(t, p, "This page cannot be shown", "Try again")
	choose(p, "nav a", "Week")
	reads(t, p, "Week")
	w.down()
	w.before = nil
	w.up()
	choose(p, "nav a", "Read")
	reads(t, p, "Read")
	until(t, p, "is whole again", `() => !document.body.innerText.includes("This page cannot be shown")`)
}
