package demo

import (
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/refer"
)

// The made-up club: an island whose yearly race crosses a tidal causeway at low water.
const (
	practice = "Tidegate Running Club"
	coach    = "Maren Oake"
	second   = "Joss Hellier"
	zone     = "Atlantic/Faroe"

	// Email and Password are the demo's sign-in.
	Email    = "maren@tidegate.example"
	Password = "low-water-crossing"
)

// tests is one visit's figures, left and right. Raises stop for the given reason.
type tests struct {
	ankle, active, passive, raises [2]float64
	stop                           string
	lift                           bool // one heel-lift trial among the ankle's
}

// member is one invented runner and how the four months went.
type member struct {
	name     string
	born     body.Date
	set      func(*body.Profile)
	first    tests
	gain     tests // what four weeks of work add, at most three times
	skip     int   // skips every n-th session; 0 none
	morning  func(ago int) int
	pain     func(ago int) int
	rpe      func(ago int) int
	runMore  func(ago int) float64 // factor on the fixed runs
	decideTo int                   // the coach decided everything up to this many days ago
	silent   int                   // reports nothing in the last n days
	start    int                   // days ago the first visit was
	retests  bool
	stop     *refer.Stop
	unscreen bool
	race     int                   // days until the yearly race; 0 not entered
	byHand   build.Choices         // what the coach chose against the draft
	more     map[string][2]float64 // figures that differ from the usual foot, or come on top of it
	films    map[int]string        // simulated clips kept at the n-th visit
	quick    []figures             // before and after yesterday's session; stop is the moment
	home     bool                  // checks at home, and writes
	form     func(*body.Profile)   // what the runner filled in and the coach has not read yet
}

// figures are one measure's values, left and right; an unsided measure uses the first.
type figures struct {
	measure string
	at      [2]float64
	stop    string
}

// usualFoot is what a core screen finds on a member with nothing special.
var usualFoot = []figures{
	{"arch.two_finger", [2]float64{1, 1}, ""}, {"toes.shape", [2]float64{0, 0}, ""}, {"sole.touch", [2]float64{0, 0}, ""},
	{"ankle.end_feel", [2]float64{0, 0}, ""}, {"walk.heels", [2]float64{0, 0}, ""}, {"walk.toes", [2]float64{0, 0}, ""},
	{"gait.posture", [2]float64{0}, ""}, {"gait.hips", [2]float64{0}, ""}, {"gait.cadence", [2]float64{43}, ""},
	{"gait.bounce", [2]float64{1}, ""}, {"gait.sound", [2]float64{1}, ""},
	{"gait.strike", [2]float64{1, 1}, ""}, {"toes.big_alone", [2]float64{2, 2}, ""}, {"toe.press", [2]float64{2, 2}, ""},
	{"foot.short", [2]float64{2, 2}, ""},
	{"balance.open", [2]float64{45, 45}, ""}, {"squat.arch", [2]float64{0, 0}, ""},
}

func level(n int) func(int) int { return func(int) int { return n } }

// lately gives base until n days ago, then the given values up to today.
func lately(base int, last ...int) func(int) int {
	return func(ago int) int {
		if ago < len(last) {
			return last[len(last)-1-ago]
		}
		return base
	}
}

// falling goes from high to low in equal steps over the four months.
func falling(high, low int, last ...int) func(int) int {
	return func(ago int) int {
		if ago < len(last) {
			return last[len(last)-1-ago]
		}
		return low + (high-low)*ago/112
	}
}

func runs(days ...body.FixedRun) []body.FixedRun { return days }

func run(weekday, minutes int, quality string) body.FixedRun {
	return body.FixedRun{Weekday: weekday, Minutes: minutes, Quality: quality}
}

var members = []member{
	{name: "Ines Tarrow", born: "1988-04-17", first: tests{ankle: [2]float64{6, 10.5}, active: [2]float64{28, 30}, passive: [2]float64{36, 38},
		raises: [2]float64{14, 15}, stop: "ceiling", lift: true},
		gain: tests{ankle: [2]float64{0.5, 0.2}, raises: [2]float64{2, 2}}, retests: true, decideTo: 4,
		start: 100,
		more: map[string][2]float64{"arch.drop": {8, 6}, "foot.posture_index": {1, 0}, "toes.shape": {0, 0}, "stance.low_back": {1},
			"stance.chest": {1}, "gait.posture": {1}, "gait.arms": {0, 1}, "gait.crossover": {1, 0}, "gait.collapse": {1, 0},
			"ankle.lunge_angle": {29, 36.5}, "ankle.seated_bend": {26, 33}, "ankle.end_feel": {0, 0}, "toe.loaded_extension": {27, 33},
			"toe.passive_extension": {62, 64}, "toe.alignment": {0, 0}, "toes.others_alone": {1, 2}, "toes.spread": {2, 2},
			"toes.big_alone": {1, 2}, "foot.short": {1, 2}, "foot.short_hold": {7, 14}, "balance.open": {31, 44}, "reach.front": {54, 60},
			"reach.side": {66, 67}, "reach.back": {72, 74}, "reach.cross": {62, 66},
			"squat.arch": {1, 0}, "squat.knee": {1, 0}, "squat.heel": {1, 0}, "hold.forefoot_two": {52}, "hold.forefoot_one": {24, 34},
			"hold.soleus_wall": {35}},
		set: func(p *body.Profile) {
			p.Goal, p.WeeklyMinutes, p.WeeklyKm, p.LongestRunKm = "distance", 190, 34, 17
			p.Runs = runs(run(1, 45, "quality"), run(3, 40, "easy"), run(6, 100, "long"))
		}},
	{name: "Bram Kettle", born: "1979-11-02", first: tests{ankle: [2]float64{10.5, 11}, active: [2]float64{16, 19},
		passive: [2]float64{37, 38}, raises: [2]float64{13, 12}, stop: "height"},
		gain: tests{active: [2]float64{2, 2}, raises: [2]float64{2, 2}}, retests: true, decideTo: 3, skip: 7,
		byHand: build.Choices{Days: []int{0, 2, 4}, Without: []string{"toe_spread"}, Also: []string{"balance"},
			Why: map[string]string{"balance": "Wants steadier landings on the rocks"}},
		more: map[string][2]float64{"toes.big_alone": {1, 1}, "toes.others_alone": {2, 1}},
		set: func(p *body.Profile) {
			p.Goal, p.WeeklyMinutes, p.WeeklyKm, p.LongestRunKm = "hills", 150, 24, 12
			p.Runs = runs(run(2, 50, "easy"), run(5, 100, "long"))
		}},
	{name: "Odile Fenwick", born: "1974-08-23", first: tests{ankle: [2]float64{7, 8.5}, active: [2]float64{20, 26},
		passive: [2]float64{27, 34}, raises: [2]float64{9, 13}, stop: "height"},
		gain: tests{ankle: [2]float64{0.6, 0.3}, passive: [2]float64{1, 0}, active: [2]float64{1, 0}, raises: [2]float64{2, 2}}, retests: true,
		decideTo: 4,
		morning:  falling(4, 1, 1, 1, 1, 2, 3, 4), pain: falling(3, 1),
		start: 98,
		more:  map[string][2]float64{"walk.heels": {3, 0}, "toe.press": {1, 2}, "foot.short": {1, 2}},
		quick: []figures{{"walk.heels", [2]float64{4, 0}, "before"}, {"walk.toes", [2]float64{1, 0}, "before"},
			{"ankle.knee_to_wall", [2]float64{8, 9}, "before"},
			{"walk.heels", [2]float64{2, 0}, "after"}, {"walk.toes", [2]float64{1, 0}, "after"},
			{"ankle.knee_to_wall", [2]float64{8.5, 9.5}, "after"}},
		set: func(p *body.Profile) {
			p.Goal, p.WeeklyMinutes, p.WeeklyKm, p.LongestRunKm = "pain_free", 90, 14, 7
			p.Runs = runs(run(0, 30, "easy"), run(3, 30, "easy"), run(5, 35, "easy"))
			p.Symptoms = []body.Symptom{{Region: body.HeelSole, Side: body.Left, Worst: 6, Baseline: 4, When: body.Times{"first_steps", "easing"}}}
		}},
	{name: "Tomas Ravn", born: "1991-01-30", first: tests{ankle: [2]float64{9, 8.5}, active: [2]float64{27, 27}, passive: [2]float64{35, 35},
		raises: [2]float64{11, 12}, stop: "rhythm"},
		gain: tests{ankle: [2]float64{0.3, 0.4}, raises: [2]float64{4, 4}}, retests: true, decideTo: 5, pain: lately(1, 3, 3, 3, 3, 3),
		rpe:   lately(7),
		start: 107, home: true,
		more:  map[string][2]float64{"gait.cadence": {40}, "gait.strike": {0, 0}, "gait.sound": {2}, "gait.bounce": {2}, "gait.hips": {1}},
		films: map[int]string{0: "heel-240", 2: "uneven-240"},
		set: func(p *body.Profile) {
			p.Goal, p.WeeklyMinutes, p.WeeklyKm, p.LongestRunKm = "distance", 210, 36, 19
			p.Runs = runs(run(1, 50, "quality"), run(3, 45, "easy"), run(4, 35, "easy"), run(6, 90, "long"))
		}},
	{name: "Greta Lund", born: "1985-06-11", first: tests{ankle: [2]float64{10, 5}, active: [2]float64{30, 29}, passive: [2]float64{37, 36},
		raises: [2]float64{15, 8}, stop: "height"},
		gain: tests{ankle: [2]float64{0, 0.8}, raises: [2]float64{2, 4}}, retests: true, decideTo: 6,
		start: 94,
		set: func(p *body.Profile) {
			p.Goal, p.WeeklyMinutes, p.WeeklyKm, p.LongestRunKm = "pain_free", 100, 15, 8
			p.Runs = runs(run(1, 35, "easy"), run(5, 60, "easy"))
			p.Cautions = []string{"hardware"}
			p.History = body.History{Injuries: "Right ankle broken three years ago, two screws left in", Sprain: true, Prescribed: "none"}
		}},
	{name: "Pip Sandal", born: "2010-03-09", first: tests{ankle: [2]float64{8.5, 9}, active: [2]float64{26, 28}, passive: [2]float64{34, 35},
		raises: [2]float64{14, 15}, stop: "ceiling"},
		gain: tests{ankle: [2]float64{0.4, 0.4}}, retests: true, decideTo: 3, start: 50,
		set: func(p *body.Profile) {
			p.MassKg, p.HeightCm, p.LegMm, p.FootMm, p.BigToeMm = 52, 165, 820, 242, 57
			p.Goal, p.WeeklyMinutes, p.WeeklyKm, p.LongestRunKm, p.GuardianConsent = "speed", 120, 20, 8, true
			p.Runs = runs(run(1, 40, "quality"), run(3, 40, "quality"), run(6, 45, "easy"))
		}},
	{name: "Marek Dolny", born: "1983-09-14", first: tests{ankle: [2]float64{10.8, 11}, active: [2]float64{26, 26},
		passive: [2]float64{36, 36}, raises: [2]float64{20, 21}, stop: "height"},
		gain: tests{ankle: [2]float64{0.3, 0.3}, raises: [2]float64{1, 1}}, retests: true, decideTo: 4, race: 12,
		more: map[string][2]float64{"arch.two_finger": {2, 0}},
		runMore: func(ago int) float64 {
			if ago < 7 {
				return 1.6
			}
			return 1
		},
		start: 104,
		set: func(p *body.Profile) {
			p.Goal, p.WeeklyMinutes, p.WeeklyKm, p.LongestRunKm = "distance", 260, 48, 22
			p.Runs = runs(run(1, 60, "quality"), run(2, 40, "easy"), run(4, 50, "easy"), run(6, 110, "long"))
		}},
	{name: "Silvi Aune", born: "1996-12-05", first: tests{ankle: [2]float64{8, 8}, active: [2]float64{22, 24}, passive: [2]float64{33, 33},
		raises: [2]float64{12, 12}, stop: "height"},
		gain: tests{raises: [2]float64{2, 2}}, decideTo: 10, silent: 9, start: 27, skip: 3,
		set: func(p *body.Profile) {
			p.Goal, p.WeeklyMinutes, p.WeeklyKm, p.LongestRunKm = "distance", 110, 18, 9
			p.Runs = runs(run(2, 50, "easy"), run(6, 60, "long"))
		}},
	{name: "Noor Vale", born: "1990-07-21", first: tests{ankle: [2]float64{11, 11.5}, active: [2]float64{30, 31}, passive: [2]float64{38, 39},
		raises: [2]float64{22, 23}, stop: "height"},
		gain: tests{raises: [2]float64{2, 2}}, decideTo: 2, start: 40,
		set: func(p *body.Profile) {
			p.Goal, p.WeeklyMinutes, p.WeeklyKm, p.LongestRunKm = "barefoot", 170, 30, 15
			p.Runs = runs(run(1, 45, "quality"), run(4, 45, "easy"), run(6, 80, "long"))
		}},
	{name: "Hale Brock", born: "1969-02-26", first: tests{ankle: [2]float64{8, 7.5}, active: [2]float64{22, 22}, passive: [2]float64{31, 30},
		raises: [2]float64{10, 11}, stop: "height"},
		gain: tests{ankle: [2]float64{0.3, 0.3}, raises: [2]float64{2, 2}}, retests: true, decideTo: 5,
		stop: &refer.Stop{Sign: "wound", Region: body.Arch, Side: body.Right, Source: "phone"},
		set: func(p *body.Profile) {
			p.Goal, p.WeeklyMinutes, p.WeeklyKm, p.LongestRunKm = "pain_free", 80, 12, 6
			p.Runs = runs(run(0, 40, "easy"), run(4, 40, "easy"))
			p.Cautions = []string{"sensation"}
		}},
	{name: "Aud Strand", born: "1958-10-08", first: tests{ankle: [2]float64{7.5, 7}, active: [2]float64{18, 20}, passive: [2]float64{28, 29},
		raises: [2]float64{4, 3}, stop: "height"},
		gain: tests{ankle: [2]float64{0.4, 0.4}, passive: [2]float64{1, 1}, raises: [2]float64{3, 3}}, retests: true, decideTo: 3,
		start: 101,
		more:  map[string][2]float64{"balance.open": {22, 19}, "arch.two_finger": {1, 2}},
		set: func(p *body.Profile) {
			p.MassKg, p.HeightCm = 58, 162
			p.Goal, p.WeeklyMinutes, p.WeeklyKm, p.LongestRunKm = "hills", 120, 17, 8
			p.Runs = runs(run(1, 40, "easy"), run(4, 40, "easy"), run(6, 45, "long"))
		}},
	{name: "Runa Skarv", born: "1993-03-02", first: tests{ankle: [2]float64{11.5, 12}, active: [2]float64{30, 31},
		passive: [2]float64{38, 38}, raises: [2]float64{24, 25}, stop: "height"},
		decideTo: 5, start: 48,
		set: func(p *body.Profile) {
			p.Goal, p.WeeklyMinutes, p.WeeklyKm, p.LongestRunKm = "barefoot", 150, 26, 11
			p.Runs = runs(run(1, 40, "easy"), run(3, 45, "easy"), run(6, 65, "easy"))
		}},
	{name: "Jory Pell", born: "1987-08-30", first: tests{ankle: [2]float64{11, 11}, active: [2]float64{29, 30}, passive: [2]float64{36, 37},
		raises: [2]float64{21, 22}, stop: "height"},
		decideTo: 2, start: 60,
		set: func(p *body.Profile) {
			p.Goal, p.WeeklyMinutes, p.WeeklyKm, p.LongestRunKm = "distance", 160, 28, 14
			p.Runs = runs(run(1, 45, "easy"), run(3, 45, "quality"), run(6, 70, "easy"))
			p.Shoes = append(p.Shoes, body.Shoe{Name: "light pair", MassG: 235, HeelMm: 26, ForefootMm: 22, Lengthwise: 1.5, Twisting: 1,
				WidthMm: 98}, body.Shoe{Name: "thin pair", MassG: 150, HeelMm: 10, ForefootMm: 10, Lengthwise: 2.5, Twisting: 2.5, WidthMm: 100})
		}},
	{name: "Wren Calder", born: "1995-01-12", first: tests{ankle: [2]float64{11, 11.5}, active: [2]float64{28, 28},
		passive: [2]float64{36, 36}, raises: [2]float64{20, 21}, stop: "height"},
		decideTo: 1, start: 24, race: 40,
		set: func(p *body.Profile) {
			p.Goal, p.WeeklyMinutes, p.WeeklyKm, p.LongestRunKm = "barefoot", 140, 24, 12
			p.GoalWords = "Run the causeway stretch on bare feet"
			p.Runs = runs(run(2, 40, "easy"), run(4, 40, "easy"), run(6, 60, "easy"))
		}},
	{name: "Kit Solvang", born: "1999-05-19", unscreen: true,
		form: func(p *body.Profile) {
			p.HeightCm, p.MassKg, p.GoalWords, p.SittingHours = 181, 74, "Finish the causeway race without stopping", 9
			p.Symptoms = []body.Symptom{{Region: body.Shin, Side: body.Right, Worst: 4, Baseline: 1, When: body.Times{"during_run", "after"}}}
		},
		set: func(p *body.Profile) {
			p.Goal, p.WeeklyMinutes, p.WeeklyKm, p.LongestRunKm = "distance", 130, 22, 10
			p.Runs = runs(run(1, 40, "easy"), run(3, 40, "easy"), run(5, 50, "long"))
		}},
}
