package body

import (
	"bytes"
	"cmp"
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"
)

// Units are what somebody reads lengths, masses and distances in. Everything is stored and computed in cm, kg and km;
// the zero value reads it so.
type Units struct {
	Length   string `json:"length,omitempty" enum:"cm,in"`
	Mass     string `json:"mass,omitempty" enum:"kg,lb"`
	Distance string `json:"distance,omitempty" enum:"km,mi"`
}

// Check refuses a unit that is not offered.
func (u Units) Check() error {
	for _, x := range [][4]string{{"length", u.Length, "cm", "in"}, {"mass", u.Mass, "kg", "lb"}, {"distance", u.Distance, "km", "mi"}} {
		if x[1] != "" && x[1] != x[2] && x[1] != x[3] {
			return Refuse(x[0], "is %q; choose %s or %s", x[1], x[2], x[3])
		}
	}
	return nil
}

// A figure in a text stands between two marks that nobody types and no screen shows, so that whoever reads it may read
// it in other units. Closed by silent, it is written without its unit; what was rounded away stands behind exactly.
const (
	mark    = "\u2063"
	silent  = "\u2064"
	exactly = "\u2062"
)

// In writes a figure of cm, kg, km or km/h into a text, so that Words can write it in other units; another unit is written
// as it is. format is of the figure alone, such as "%.1f".
func In(unit, format string, v float64) string {
	return marking(unit, fmt.Sprintf(format, v), v, mark, " "+unit)
}

// Bare is In without the unit's name, for a figure of a formula that names it once.
func Bare(unit, format string, v float64) string {
	return marking(unit, fmt.Sprintf(format, v), v, silent, "")
}

// Short is Bare with at most so many decimals, none of them a needless 0.
func Short(unit string, v float64, most int) string {
	return marking(unit, Decimal(v, most), v, silent, "")
}

func marking(unit, figure string, v float64, end, plain string) string {
	if !convertible(unit, v) {
		return figure + plain
	}
	if shown, err := strconv.ParseFloat(figure, 64); err == nil && shown != v {
		figure += exactly + strconv.FormatFloat(v, 'f', 4, 64)
	}
	return mark + figure + " " + unit + end
}

func convertible(unit string, v float64) bool {
	return (unit == "cm" || unit == "kg" || unit == "km" || unit == "km/h") && !math.IsNaN(v) && !math.IsInf(v, 0)
}

const figure = `\d{1,9}(?:\.\d{1,9})?`

var marked = regexp.MustCompile(mark + `([+−-]?)(` + figure + `)(?:` + exactly + `-?(` + figure + `))? (cm|kg|km/h|km)([` + mark + silent +
	`])`)

// What one of the other unit is in the stored one: the international inch, pound and mile (NIST SP 811, appendix B).
const (
	inchCm   = 2.54
	poundKg  = 0.45359237
	mileKm   = 1.609344
	tooSmall = 1e-9
)

// to is the unit and its size in the stored one; 1 where it is read as stored.
func (u Units) to(unit string) (string, float64) {
	switch {
	case unit == "cm" && u.Length == "in":
		return "in", inchCm
	case unit == "kg" && u.Mass == "lb":
		return "lb", poundKg
	case unit == "km" && u.Distance == "mi":
		return "mi", mileKm
	case unit == "km/h" && u.Distance == "mi":
		return "mph", mileKm
	}
	return unit, 1
}

// Words writes the figures that In marked in these units, without the marks. Inches have one decimal more than the
// centimetres had; pounds, miles and miles an hour one at least.
func (u Units) Words(text string) string {
	if !strings.Contains(text, mark) {
		return text
	}
	return marked.ReplaceAllStringFunc(text, func(m string) string {
		x := marked.FindStringSubmatch(m)
		unit, size := u.to(x[4])
		figure := x[2]
		if size != 1 {
			v, _ := strconv.ParseFloat(cmp.Or(x[3], x[2]), 64)
			figure = Decimal(v/size, decimals(x[2], unit))
		}
		if x[5] == silent {
			return x[1] + figure
		}
		return x[1] + figure + " " + unit
	})
}

func decimals(figure, unit string) int {
	_, after, _ := strings.Cut(figure, ".")
	if unit == "in" {
		return min(len(after)+1, 2)
	}
	return max(len(after), 1)
}

// Decimal writes a figure with at most so many decimals, none of them a needless 0.
func Decimal(v float64, most int) string {
	if math.Abs(v) < tooSmall {
		return "0"
	}
	return strconv.FormatFloat(math.Round(v*math.Pow10(most))/math.Pow10(most), 'f', -1, 64)
}

// Bytes is Words for a document that is on its way out, such as JSON in UTF-8.
func (u Units) Bytes(text []byte) []byte {
	if !bytes.Contains(text, []byte(mark)) {
		return text
	}
	return []byte(u.Words(string(text)))
}

// Plain writes the figures as they are stored.
func Plain(text string) string { return Units{}.Words(text) }
