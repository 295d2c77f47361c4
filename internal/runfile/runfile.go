// Package runfile reads what files of watches and tables tell of runs: FIT, GPX 1.1, TCX and CSV, packed with gzip or many in a
// ZIP. Files are read as streams, twice where a table has to be understood first. Positions are used for distance and climb
// while they pass, and leave nothing behind: no run, refusal or note holds one, nor a heart rate, a weight or a birth date.
package runfile

import (
	"bufio"
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"hash"
	"io"
	"path"
	"strings"
	"time"
	"unicode"
)

// Run is what a file tells of one run. Zero is unknown, but for Pain and RPE.
type Run struct {
	Start   time.Time `json:"start"`             // instant
	NoClock bool      `json:"noClock,omitempty"` // only the day is known: Start is its noon
	Moving  float64   `json:"moving"`            // minutes
	Elapsed float64   `json:"elapsed,omitempty"`
	Km      float64   `json:"km,omitempty"`
	ClimbM  float64   `json:"climbM,omitempty"`
	Cadence float64   `json:"cadence,omitempty"` // steps of both feet a minute
	Surface string    `json:"surface,omitempty"`
	Kind    string    `json:"kind,omitempty"`
	Shoe    string    `json:"shoe,omitempty"`
	RPE     int       `json:"rpe"`  // 1–10; -1 unknown
	Pain    int       `json:"pain"` // 0–10; -1 unknown
	// As the watch says; their error is not known.
	ContactMs float64 `json:"contactMs,omitempty"`
	BounceMm  float64 `json:"bounceMm,omitempty"`
	BalanceL  float64 `json:"balanceL,omitempty"` // % of contact time on the left
	// Notes are what was noticed while reading, in words.
	Notes []string `json:"notes,omitempty"`
}

func (r *Run) note(format string, args ...any) {
	r.Notes = append(r.Notes, fmt.Sprintf(format, args...))
}

// Found is one file and what it tells: runs, or why it could not be read.
type Found struct {
	Name    string
	Size    int64  // as it lies unpacked, bytes
	Hash    string // SHA-256 of that, hexadecimal
	Kind    string // FIT, GPX, TCX or CSV
	Runs    []Run
	Refused string
	Left    []string // what of it was left out, and why
	Table   *Table   // how a CSV was understood
}

// Options say what a file does not.
type Options struct {
	Zone    *time.Location    // of times without one
	Now     time.Time         // nothing is later
	Columns map[string]string // of a CSV: field → header; overrides what is found. Order is month or day, where a date may be either
	// Recall finds how a table with such a heading was read before; nil where it never was.
	Recall func(heading string) map[string]string
}

// Bounds of what is read: of one file unpacked, of a package in all and in number, and how far a package may swell.
const (
	MostBytes = 64 << 20
	mostAll   = 1 << 30
	mostFiles = 5000
	mostSwell = 250
)

// Refusal says in plain words why a file or a run is not taken.
type Refusal string

func (r Refusal) Error() string { return string(r) }

func refuse(format string, args ...any) error { return Refusal(fmt.Sprintf(format, args...)) }

// words are what is said of an error; what a library says may hold anything, positions too, and is not repeated.
func words(err error) string {
	var r Refusal
	switch {
	case errors.As(err, &r):
		return string(r)
	case errors.Is(err, io.ErrUnexpectedEOF), errors.Is(err, io.EOF):
		return "is cut short: export it again"
	}
	return "is damaged: export it again"
}

// source is one file that can be opened again.
type source struct {
	name string
	open func() (io.ReadCloser, error)
}

// Read reads a file, or each file of a package, and gives what it found, file by file; an error of give ends it. Nothing that a
// file holds makes an error of its own: it is told in Found.Refused, and the rest still goes in.
func Read(name string, at io.ReaderAt, size int64, o Options, give func(Found) error) error {
	whole := source{clean(name), func() (io.ReadCloser, error) { return io.NopCloser(io.NewSectionReader(at, 0, size)), nil }}
	head := make([]byte, 4)
	n, _ := at.ReadAt(head, 0)
	switch head = head[:n]; {
	case bytes.HasPrefix(head, []byte("PK")):
		return unzip(whole.name, at, size, o, give)
	case bytes.HasPrefix(head, []byte{0x1f, 0x8b}):
		return give(unpacked(whole).read(o))
	}
	return give(whole.read(o))
}

// unpacked is a file packed with gzip.
func unpacked(s source) source {
	open := s.open
	s.name = strings.TrimSuffix(s.name, ".gz")
	s.open = func() (io.ReadCloser, error) {
		packed, err := open()
		if err != nil {
			return nil, err
		}
		z, err := gzip.NewReader(packed)
		if err != nil {
			return nil, err
		}
		return struct {
			io.Reader
			io.Closer
		}{z, packed}, nil
	}
	return s
}

// clean is a file's own name without where it lay, fit to be shown.
func clean(name string) string {
	name = path.Base(strings.ReplaceAll(name, `\`, "/"))
	name = strings.Map(func(r rune) rune {
		if unicode.IsControl(r) || r == unicode.ReplacementChar {
			return -1
		}
		return r
	}, strings.ToValidUTF8(name, ""))
	if letters := []rune(name); len(letters) > 120 {
		name = string(letters[:120])
	}
	if name == "" || name == "." || name == "/" || name == ".." {
		return "a file"
	}
	return name
}

// bounded counts and hashes what is read, and refuses more than a file may hold.
type bounded struct {
	io.Reader
	hash hash.Hash
	n    int64
}

func (b *bounded) Read(p []byte) (int, error) {
	n, err := b.Reader.Read(p)
	b.hash.Write(p[:n])
	if b.n += int64(n); b.n > MostBytes {
		return n, refuse("is larger than %d MB", MostBytes>>20)
	}
	return n, err
}

// read reads one file of any kind by what stands in it, whatever it is called.
func (s source) read(o Options) (f Found) {
	f.Name = s.name
	err := s.each(func(r *bounded) error {
		defer func() { f.Size = r.n }()
		in := bufio.NewReaderSize(r, 4096)
		head, err := in.Peek(512)
		if len(head) == 0 {
			return refuse("is empty")
		}
		var own Refusal
		if errors.As(err, &own) {
			return err
		}
		switch text := bytes.TrimLeft(bytes.TrimPrefix(head, []byte("\xef\xbb\xbf")), " \t\r\n"); {
		case bytes.HasPrefix(head, []byte("PK")), bytes.HasPrefix(head, []byte{0x1f, 0x8b}):
			return refuse("is a package inside a package: unpack it first")
		case len(head) >= 12 && string(head[8:12]) == ".FIT":
			f.Kind = "FIT"
			f.Runs, err = readFIT(in)
		case bytes.HasPrefix(text, []byte("<")):
			f.Kind, f.Runs, err = readXML(in)
		case looksLikeText(head):
			f.Kind = "CSV"
			f.Table, f.Runs, f.Left, err = s.readCSV(o)
			in.Reset(r)
		default:
			return refuse("is none of FIT, GPX, TCX and CSV")
		}
		if err != nil {
			return err
		}
		_, err = io.Copy(io.Discard, in) // to the end: the hash is the whole file's
		f.Hash = hex.EncodeToString(r.hash.Sum(nil))
		return err
	})
	if err != nil {
		f.Runs, f.Left, f.Refused = nil, nil, words(err)
		return f
	}
	var kept []Run
	for i, r := range f.Runs {
		switch no := r.check(o.Now); {
		case no == "":
			kept = append(kept, r)
		case len(f.Runs) > 1:
			f.Left = append(f.Left, fmt.Sprintf("run %d %s", i+1, no))
		default:
			f.Left = append(f.Left, no)
		}
	}
	if f.Runs = kept; len(kept) == 0 {
		f.Refused = "tells of no run"
		if len(f.Left) > 0 {
			f.Refused, f.Left = f.Left[0], nil
		}
	}
	return f
}

// each opens the file and hands it over as a bounded stream.
func (s source) each(f func(*bounded) error) error {
	in, err := s.open()
	if err != nil {
		return err
	}
	defer in.Close()
	return f(&bounded{Reader: in, hash: sha256.New()})
}

func looksLikeText(head []byte) bool {
	if bytes.HasPrefix(head, []byte{0xff, 0xfe}) || bytes.HasPrefix(head, []byte{0xfe, 0xff}) {
		return true
	}
	for _, c := range head {
		if c < ' ' && c != '\n' && c != '\r' && c != '\t' {
			return false
		}
	}
	return true
}

// Speeds of people on foot, m/s: nobody runs faster than the one over a stretch, nor than the other over a whole run; common
// practice, no source.
const (
	fastest = 12.5
	fastRun = 7.0
)

// check says why what was read cannot have been a run; empty where it can.
func (r Run) check(now time.Time) string {
	switch {
	case r.Start.IsZero():
		return "has no times: it is a course, not a run"
	case r.Start.After(now.Add(24 * time.Hour)):
		return fmt.Sprintf("is dated after today (%s): the watch's clock was set wrong; enter it by hand", r.Start.Format("2 January 2006"))
	case r.Start.Before(time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC)):
		return fmt.Sprintf("is dated %d: the watch's clock was set wrong; enter it by hand", r.Start.Year())
	case r.Moving < 1:
		return "is shorter than a minute"
	case r.Moving > 1440:
		return "is longer than a day"
	case r.Km > 250:
		return "is longer than 250 km"
	case r.Km*1000 > fastRun*60*r.Moving:
		return fmt.Sprintf("is no run: %.0f km/h on the whole", r.Km*60/r.Moving)
	}
	return ""
}
