package runfile

import (
	"bufio"
	"bytes"
	"crypto/sha256"
	"encoding/csv"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"golang.org/x/text/encoding"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
)

// Table is how a CSV was understood.
type Table struct {
	Header    []string          `json:"header"`
	Columns   map[string]string `json:"columns"` // field → header
	Separator string            `json:"separator"`
	Encoding  string            `json:"encoding"`
	DayFirst  bool              `json:"dayFirst"`
	Guessed   bool              `json:"guessed"` // the order of day and month was not to be told from the file
}

// Fields are what a column may hold.
var Fields = []string{"date", "time", "minutes", "elapsed", "km", "climb", "cadence", "rpe", "pain", "surface", "kind", "shoe", "sport"}

// names are words that headers hold, by field; the first field that fits takes the column.
var names = []struct {
	field string
	is    *regexp.Regexp
}{
	{"elapsed", regexp.MustCompile(`elapsed|total time`)},
	{"minutes", regexp.MustCompile(`moving|duration|minutes|\bmin\b|dauer|dur[ée]e|run time`)},
	{"date", regexp.MustCompile(`date|datum|\bday\b|started|start time|fecha`)},
	{"time", regexp.MustCompile(`^start$|clock|time of day|uhrzeit|heure|^time$`)},
	{"km", regexp.MustCompile(`dist|strecke|\bkm\b|miles|kilomet`)},
	{"climb", regexp.MustCompile(`climb|ascent|elev|gain|anstieg|h[öo]henm`)},
	{"cadence", regexp.MustCompile(`cadence|spm|steps|kadenz|schritt`)},
	{"rpe", regexp.MustCompile(`rpe|effort|exertion|anstrengung`)},
	{"pain", regexp.MustCompile(`pain|schmerz|douleur`)},
	{"surface", regexp.MustCompile(`surface|terrain|ground|untergrund`)},
	{"shoe", regexp.MustCompile(`shoe|gear|schuh`)},
	{"sport", regexp.MustCompile(`sport|activity type|discipline`)},
	{"kind", regexp.MustCompile(`kind|type|workout|session`)},
}

// mostRows a table may have.
const mostRows = 20_000

// readCSV reads a table of runs, a row each. It is opened again for it: first to understand it, then to read it.
func (s source) readCSV(o Options) (_ *Table, out []Run, left []string, err error) {
	var t *table
	err = s.each(func(b *bounded) (err error) { t, err = understand(b, o); return err })
	if err != nil {
		if t != nil {
			return &t.Table, nil, nil, err // how it was understood so far, to choose otherwise
		}
		return nil, nil, nil, err
	}
	err = s.each(func(b *bounded) error {
		rows := t.rows(b)
		for n := 0; ; n++ {
			row, err := rows.Read()
			if errors.Is(err, io.EOF) {
				return nil
			}
			if err != nil {
				return badRow(err)
			}
			if n == 0 || blankRow(row) {
				continue // the header
			}
			run, err := t.run(row, o)
			switch {
			case err != nil && len(left) < 100:
				left = append(left, fmt.Sprintf("row %d %s", n+1, words(err)))
			case err == nil && run != nil:
				out = append(out, *run)
			}
		}
	})
	return &t.Table, out, left, err
}

func badRow(err error) error {
	var bad *csv.ParseError
	if errors.As(err, &bad) {
		return refuse("has a quote that is not closed, or a stray one, in line %d", bad.Line)
	}
	return err
}

func blankRow(row []string) bool {
	return !slices.ContainsFunc(row, func(c string) bool { return strings.TrimSpace(c) != "" })
}

// table is a Table with what reading its rows needs.
type table struct {
	Table
	decode encoding.Encoding
	at     map[string]int // field → column
	unit   float64        // km of one unit of distance
	asHM   bool           // two parts of a duration are hours and minutes
	secs   map[string]bool
}

func (t *table) rows(r io.Reader) *csv.Reader {
	c := csv.NewReader(t.decode.NewDecoder().Reader(r))
	c.Comma, _ = utf8.DecodeRuneInString(t.Separator)
	c.FieldsPerRecord, c.LazyQuotes, c.ReuseRecord = -1, true, true
	return c
}

// understand finds letters, separator, columns, the order of dates and the units of a table.
func understand(b *bounded, o Options) (*table, error) {
	in := bufio.NewReaderSize(b, 64<<10)
	head, _ := in.Peek(64 << 10)
	t := &table{}
	t.Encoding, t.decode = letters(head)
	plain, err := t.decode.NewDecoder().Bytes(head)
	if err != nil {
		return nil, refuse("is written in letters nobody knows here: export it as UTF-8")
	}
	first, _, _ := bytes.Cut(plain, []byte("\n"))
	t.Separator = ","
	for _, sep := range []string{";", "\t", "|"} {
		if bytes.Count(first, []byte(sep)) > bytes.Count(first, []byte(t.Separator)) {
			t.Separator = sep
		}
	}
	rows := t.rows(in)
	header, err := rows.Read()
	if err != nil {
		return nil, badRow(err)
	}
	if len(header) > 200 {
		return nil, refuse("has more than 200 columns")
	}
	for _, h := range header {
		h = strings.TrimSpace(strings.TrimPrefix(h, "\ufeff"))
		if len([]rune(h)) > 60 {
			h = string([]rune(h)[:60])
		}
		t.Header = append(t.Header, h)
	}
	chosen := o.Columns
	if chosen == nil && o.Recall != nil {
		chosen = o.Recall(t.Heading())
	}
	t.columns(chosen)
	if _, is := t.at["date"]; !is {
		return t, refuse("has no column for the date; its first row has to name the columns, such as date, minutes, km")
	}
	_, has := t.at["minutes"]
	if _, other := t.at["elapsed"]; !has && !other {
		return t, refuse("has no column for the minutes; its first row has to name the columns, such as date, minutes, km")
	}
	err = t.look(rows, o.Now)
	if order := chosen[Order]; order != "" && t.Guessed { // what the file itself tells counts
		t.DayFirst, t.Guessed = order == "day", false
	}
	return t, err
}

// Order is what a choice of columns says of dates that may be read either way: day or month comes first.
const Order = "order"

// Heading is a digest of the names of the columns, to know such a table again: SHA-256, hexadecimal.
func (t Table) Heading() string {
	sum := sha256.Sum256([]byte(strings.ToLower(strings.Join(t.Header, "\t"))))
	return hex.EncodeToString(sum[:])
}

// letters finds how a text is written.
func letters(head []byte) (string, encoding.Encoding) {
	switch {
	case bytes.HasPrefix(head, []byte{0xff, 0xfe}):
		return "UTF-16", unicode.UTF16(unicode.LittleEndian, unicode.ExpectBOM)
	case bytes.HasPrefix(head, []byte{0xfe, 0xff}):
		return "UTF-16", unicode.UTF16(unicode.BigEndian, unicode.ExpectBOM)
	}
	cut := head
	for i := 0; i < 3 && len(cut) > 0 && !utf8.Valid(cut); i++ {
		cut = cut[:len(cut)-1] // the last letter may be cut in two
	}
	if utf8.Valid(cut) {
		return "UTF-8", encoding.Nop
	}
	return "Windows-1252", charmap.Windows1252
}

// columns finds what each column holds.
func (t *table) columns(chosen map[string]string) {
	t.at, t.Columns, t.secs = map[string]int{}, map[string]string{}, map[string]bool{}
	for field, header := range chosen {
		if i := slices.Index(t.Header, header); i >= 0 && slices.Contains(Fields, field) {
			t.at[field] = i
		}
	}
	if len(t.at) == 0 {
		for i, h := range t.Header {
			for _, n := range names {
				if _, taken := t.at[n.field]; !taken && n.is.MatchString(strings.ToLower(h)) {
					t.at[n.field] = i
					break
				}
			}
		}
	}
	if i, is := t.at["time"]; is { // a column “time” beside none for the minutes is how long it took
		_, has := t.at["minutes"]
		if _, other := t.at["elapsed"]; !has && !other && len(chosen) == 0 {
			delete(t.at, "time")
			t.at["minutes"] = i
		}
	}
	for field, i := range t.at {
		t.Columns[field] = t.Header[i]
		h := strings.ToLower(t.Header[i])
		t.secs[field] = strings.Contains(h, "(s)") || strings.Contains(h, "sec")
	}
	t.unit = 0
	if i, is := t.at["km"]; is {
		switch h := strings.ToLower(t.Header[i]); {
		case strings.Contains(h, "mi") && !strings.Contains(h, "min"):
			t.unit = 1.609344
		case strings.Contains(h, "(m)") || strings.Contains(h, "meters") || strings.Contains(h, "metres"):
			t.unit = 0.001
		case strings.Contains(h, "km") || strings.Contains(h, "kilo"):
			t.unit = 1
		}
	}
}

// look reads the rows once: which of day and month comes first, metres or kilometres, hours or minutes.
func (t *table) look(rows *csv.Reader, now time.Time) error {
	dayFirst, monthFirst, slashes, ahead := false, false, false, false
	far := []float64{}
	asHM, asMS := 0, 0
	n := 0
	for ; ; n++ {
		row, err := rows.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return badRow(err)
		}
		if n >= mostRows {
			return refuse("has more than %d rows", mostRows)
		}
		if m := slashed.FindStringSubmatch(t.cell(row, "date")); m != nil {
			slashes = slashes || m[2] != "."
			a, _ := strconv.Atoi(m[1])
			b, _ := strconv.Atoi(m[3])
			dayFirst, monthFirst = dayFirst || a > 12 || m[2] == ".", monthFirst || b > 12
			on := time.Date(2000+whole(m[4])%100, time.Month(b), a, 0, 0, 0, 0, time.UTC)
			ahead = ahead || b <= 12 && on.After(now.Add(24*time.Hour))
		}
		km := figure(t.cell(row, "km"))
		if km > 0 && len(far) < 1000 {
			far = append(far, km)
		}
		if parts := strings.Split(t.cell(row, "minutes"), ":"); len(parts) == 2 && km > 0 && len(far) < 1000 {
			a, b := figure(parts[0]), figure(parts[1])
			unit := t.unit
			if unit == 0 {
				unit = 1
			}
			pace := func(minutes float64) bool { p := minutes / (km * unit); return p >= 2.5 && p <= 15 }
			if pace(a*60 + b) {
				asHM++
			}
			if pace(a + b/60) {
				asMS++
			}
		}
	}
	if dayFirst && monthFirst {
		return refuse("writes some dates with the day first and some with the month first")
	}
	monthFirst = monthFirst || slashes && !dayFirst && ahead // nothing is dated after today
	t.DayFirst = !monthFirst
	t.Guessed = slashes && !dayFirst && !monthFirst
	t.asHM = asHM > asMS
	if t.unit == 0 {
		t.unit = 1
		if slices.Sort(far); len(far) > 0 && far[len(far)/2] > 200 {
			t.unit = 0.001
		}
	}
	return nil
}

func (t *table) cell(row []string, field string) string {
	if i, is := t.at[field]; is && i < len(row) {
		return strings.TrimSpace(row[i])
	}
	return ""
}

// figure is a number with a point or a comma, NaN for none. With both the last of them is the decimal sign.
func figure(s string) float64 {
	s = strings.Map(func(r rune) rune {
		if r == ' ' || r == '\u00a0' || r == '\u202f' || r == '\'' {
			return -1
		}
		return r
	}, s)
	m := leading.FindString(s)
	point, comma := strings.LastIndex(m, "."), strings.LastIndex(m, ",")
	switch {
	case comma > point:
		m = strings.Replace(strings.ReplaceAll(m, ".", ""), ",", ".", 1)
	case point > comma && comma >= 0:
		m = strings.ReplaceAll(m, ",", "")
	}
	v, err := strconv.ParseFloat(m, 64)
	if err != nil {
		return math.NaN()
	}
	return v
}

var (
	thousands = regexp.MustCompile(`^(\d{1,3})[.,](\d{3})$`)
	leading   = regexp.MustCompile(`^[-+]?[0-9][0-9.,]*`)
	slashed   = regexp.MustCompile(`^(\d{1,2})([./-])(\d{1,2})[./-](\d{4}|\d{2})\b`)
	iso       = regexp.MustCompile(`^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})`)
	clock     = regexp.MustCompile(`(?i)(\d{1,2})[:.h](\d{2})(?::(\d{2}))?(?:\.\d+)?\s*(am|pm)?`)
	worded    = []string{"2 Jan 2006", "2 January 2006", "Jan 2, 2006", "January 2, 2006", "Mon, 2 Jan 2006", "Mon Jan 2 2006"}
)

// start reads a row's date and clock; noClock where only the day is told.
func (t *table) start(date, at string, zone *time.Location) (start time.Time, noClock bool, err error) {
	for _, layout := range []string{time.RFC3339, "2006-01-02T15:04:05.999Z07:00", "2006-01-02 15:04:05Z07:00"} {
		if start, err := time.Parse(layout, date); err == nil {
			return start, false, nil
		}
	}
	var y, m, d int
	rest := at
	if p := iso.FindStringSubmatch(date); p != nil {
		y, m, d = whole(p[1]), whole(p[2]), whole(p[3])
		rest = date[len(p[0]):] + " " + at
	} else if p := slashed.FindStringSubmatch(date); p != nil {
		d, m, y = whole(p[1]), whole(p[3]), whole(p[4])
		if !t.DayFirst {
			d, m = m, d
		}
		if y < 100 {
			y += 2000
		}
		rest = date[len(p[0]):] + " " + at
	} else {
		for _, layout := range worded {
			if len(date) >= len("2 Jan 2006")-1 {
				if on, err := time.Parse(layout, date); err == nil {
					y, m, d = on.Year(), int(on.Month()), on.Day()
					break
				}
			}
		}
	}
	day := time.Date(y, time.Month(m), d, 12, 0, 0, 0, zone)
	if y == 0 || day.Day() != d || int(day.Month()) != m {
		return start, false, refuse("has no date that can be read; write it as year-month-day")
	}
	c := clock.FindStringSubmatch(rest)
	if c == nil {
		return day, true, nil
	}
	h := whole(c[1])
	switch half := strings.ToLower(c[4]); {
	case half == "pm" && h < 12:
		h += 12
	case half == "am" && h == 12:
		h = 0
	}
	if h > 23 || whole(c[2]) > 59 {
		return start, false, refuse("has a time of the day that can not be read")
	}
	return time.Date(y, time.Month(m), d, h, whole(c[2]), whole(c[3]), 0, zone), false, nil
}

func whole(s string) int { n, _ := strconv.Atoi(s); return n }

// minutes reads how long a run took: h:mm:ss, mm:ss, “1h 05m”, seconds or minutes.
func (t *table) minutes(row []string, field string) float64 {
	s := strings.ToLower(t.cell(row, field))
	if parts := strings.Split(s, ":"); len(parts) > 1 {
		sum := 0.0
		for _, p := range parts {
			sum = sum*60 + known(figure(p))
		}
		if len(parts) == 2 && t.asHM {
			return sum
		}
		return sum / 60
	}
	if h, m, is := strings.Cut(s, "h"); is {
		return known(figure(h))*60 + known(figure(strings.TrimSpace(m)))
	}
	v := known(figure(s))
	if t.secs[field] {
		v /= 60
	}
	return v
}

// run reads one row; nil for another sport.
func (t *table) run(row []string, o Options) (*Run, error) {
	if s := strings.ToLower(t.cell(row, "sport")); s != "" && !strings.Contains(s, "run") && !strings.Contains(s, "lauf") {
		return nil, nil
	}
	r := Run{RPE: -1, Pain: -1, Surface: short(t.cell(row, "surface")), Kind: short(t.cell(row, "kind")), Shoe: short(t.cell(row, "shoe"))}
	var err error
	if r.Start, r.NoClock, err = t.start(t.cell(row, "date"), t.cell(row, "time"), o.Zone); err != nil {
		return nil, err
	}
	r.Moving, r.Elapsed = t.minutes(row, "minutes"), t.minutes(row, "elapsed")
	if r.Moving == 0 {
		r.Moving = r.Elapsed
	}
	r.Elapsed = max(r.Elapsed, r.Moving)
	far := t.cell(row, "km")
	if t.unit == 0.001 {
		far = thousands.ReplaceAllString(far, "$1$2")
	}
	r.Km = known(figure(far)) * t.unit
	r.ClimbM = known(figure(t.cell(row, "climb")))
	if c := known(figure(t.cell(row, "cadence"))); c >= fewest && c <= most {
		r.Cadence = c
	} else {
		r.steps(c)
	}
	if v := figure(t.cell(row, "rpe")); v >= 1 && v <= 10 {
		r.RPE = int(math.Round(v))
	}
	if v := figure(t.cell(row, "pain")); v >= 0 && v <= 10 {
		r.Pain = int(math.Ceil(v)) // never less than was said
	}
	if t.Guessed {
		r.note("day and month could be the other way round: read as %s", r.Start.Format("2 January 2006"))
	}
	return &r, nil
}

// short is a word of a table as it is shown.
func short(s string) string {
	if s = strings.TrimSpace(s); s == "" {
		return ""
	}
	if r := []rune(strings.ToValidUTF8(s, "")); len(r) > 40 {
		return string(r[:40])
	}
	return fmt.Sprint(s)
}
