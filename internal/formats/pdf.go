package formats

import (
	"bytes"
	"fmt"
	"strings"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
)

// Paper is a sheet size.
type Paper string

// The papers.
const (
	A4     Paper = "A4"
	Letter Paper = "Letter"
)

const (
	edge = 15.0 // mm
	face = "go"
)

// sheet is a document being written, in mm.
type sheet struct {
	*fpdf.Fpdf
	wide, high float64
	in         body.Units
}

// PDF writes a hand-out in the given units: the week day by day, then each exercise with its drawing, cues and stop signs.
func PDF(h Handout, paper Paper, in body.Units) ([]byte, error) {
	s := &sheet{Fpdf: fpdf.New("P", "mm", string(paper), ""), in: in}
	s.AddUTF8FontFromBytes(face, "", goregular.TTF)
	s.AddUTF8FontFromBytes(face, "B", gobold.TTF)
	s.SetMargins(edge, edge, edge)
	s.SetAutoPageBreak(true, edge+4)
	s.SetTitle("Foot strength, "+h.Runner, true)
	s.SetFooterFunc(func() {
		s.SetY(-edge + 2)
		s.text(8, "", 90)
		s.CellFormat(0, 4, fmt.Sprintf("%s · %s – %s · page %d", h.Runner, h.From.Short(), h.Until.Short(), s.PageNo()), "", 0, "C", false, 0, "")
	})
	s.AddPage()
	s.wide, s.high = s.GetPageSize()
	s.week(h)
	s.exercises(h)
	var out bytes.Buffer
	if err := s.Output(&out); err != nil {
		return nil, fmt.Errorf("writing the PDF: %w", err)
	}
	return out.Bytes(), nil
}

// text sets size (points), style and greyness (0 black).
func (s *sheet) text(size float64, style string, grey int) {
	s.SetFont(face, style, size)
	s.SetTextColor(grey, grey, grey)
}

// para writes lines of text of a width from x, and moves below them.
func (s *sheet) para(x, w, line float64, words string) {
	s.SetX(x)
	s.MultiCell(w, line, s.in.Words(words), "", "L", false)
}

// room starts a new page when fewer than mm are left.
func (s *sheet) room(mm float64) {
	if s.GetY()+mm > s.high-edge-4 {
		s.AddPage()
	}
}

func (s *sheet) rule() {
	s.SetDrawColor(150, 150, 150)
	s.SetLineWidth(0.2)
	s.Line(edge, s.GetY(), s.wide-edge, s.GetY())
	s.Ln(1.5)
}

func (s *sheet) week(h Handout) {
	s.text(20, "B", 0)
	s.para(edge, s.wide-2*edge, 9, h.Runner)
	s.text(11, "", 60)
	s.para(edge, s.wide-2*edge, 6, fmt.Sprintf("Foot strength, %s to %s", h.From.Short(), h.Until.Short()))
	s.Ln(2)
	for _, l := range h.Locks {
		s.text(10, "B", 0)
		s.para(edge, s.wide-2*edge, 5, "STOP: "+l)
	}
	for _, d := range h.Days {
		s.room(14 + 5*float64(lines(d)))
		s.rule()
		top := s.GetY()
		s.text(11, "B", 0)
		s.para(edge, 34, 5.2, d.On.Short())
		s.text(9, "", 70)
		if d.Run != "" {
			s.para(edge, 34, 4.4, d.Run)
		}
		left := s.GetY()
		s.SetY(top)
		s.day(d)
		s.SetY(max(left, s.GetY()) + 1)
	}
	s.rule()
	s.text(8.5, "", 70)
	s.para(edge, s.wide-2*edge, 4.4, "• enough on a day with five minutes")
	s.Ln(1)
	s.notes("Mind", h.Advice)
	if len(h.Retests) > 0 {
		var lines []string
		for _, r := range h.Retests[:min(4, len(h.Retests))] {
			lines = append(lines, r.On.Short()+": "+r.What)
		}
		s.notes("To come", lines)
	}
	s.notes("Cautions", h.Cautions)
}

func lines(d HandoutDay) int {
	n := 0
	for _, x := range d.Slots {
		n += 1 + len(x.Lines)
	}
	return n
}

func (s *sheet) day(d HandoutDay) {
	x := edge + 36
	w := s.wide - edge - x
	if d.Race != "" {
		s.text(9, "B", 40)
		s.para(x, w, 4.6, d.Race)
	}
	if d.Bare != "" {
		s.text(10, "", 0)
		s.para(x, w, 4.8, strings.ToUpper(d.Bare[:1])+d.Bare[1:])
	}
	if len(d.Slots) == 0 {
		s.text(10, "", 90)
		s.para(x, w, 5, "rest from foot work")
	}
	for _, slot := range d.Slots {
		s.text(9, "B", 60)
		head := strings.ToUpper(slot.Words[:1]) + slot.Words[1:]
		if slot.Minutes > 0 {
			head += fmt.Sprintf(", %d min", slot.Minutes)
		}
		s.para(x, w, 4.6, head)
		for _, l := range slot.Lines {
			s.text(10, "", 0)
			mark := "   "
			if l.Short {
				mark = "•  "
			}
			s.para(x, w, 4.8, mark+l.Name+": "+strings.Join(l.Doses, ", "))
			if l.Then != "" {
				s.para(x+4, w-4, 4.8, "then "+l.Then)
			}
		}
	}
}

func (s *sheet) notes(title string, notes []string) {
	if len(notes) == 0 {
		return
	}
	s.room(12)
	s.text(9, "B", 0)
	s.para(edge, s.wide-2*edge, 4.6, title)
	s.text(9, "", 30)
	for _, n := range notes {
		s.para(edge, s.wide-2*edge, 4.4, "– "+n)
	}
	s.Ln(1.5)
}

func (s *sheet) exercises(h Handout) {
	if len(h.Exercises) == 0 {
		return
	}
	s.AddPage()
	s.text(15, "B", 0)
	s.para(edge, s.wide-2*edge, 8, "The exercises")
	for _, x := range h.Exercises {
		s.exercise(x)
	}
}

func (s *sheet) exercise(x HandoutSheet) {
	s.room(46)
	s.rule()
	top := s.GetY()
	left := edge
	if len(x.Drawing) > 0 {
		s.drawing(x.Drawing, edge, top, 36)
		left += 40
	}
	w := s.wide - edge - left
	s.text(12, "B", 0)
	s.para(left, w, 5.6, x.Exercise.Name)
	s.text(8.5, "", 80)
	about := x.Rail
	if x.Exercise.Tempo != "" {
		about += " · tempo: " + x.Exercise.Tempo
	}
	if x.Exercise.RestS > 0 {
		about += fmt.Sprintf(" · rest %d s", x.Exercise.RestS)
	}
	if len(x.Kit) > 0 {
		about += " · needs " + strings.Join(x.Kit, ", ")
	}
	s.para(left, w, 4.2, about)
	s.text(10, "", 0)
	s.para(left, w, 4.8, x.Exercise.SetUp)
	for _, c := range x.Exercise.Cues {
		s.para(left+2, w-2, 4.6, "– "+c)
	}
	s.text(9.5, "", 40)
	s.para(left, w, 4.6, "Good: "+x.Exercise.Good)
	s.text(9.5, "B", 0)
	s.para(left, w, 4.6, "Stop at: "+strings.Join(x.Exercise.StopWhen, "; "))
	for _, c := range x.Cautions {
		s.text(8.5, "", 60)
		s.para(left, w, 4.2, c)
	}
	if s.GetY() < top+32 && len(x.Drawing) > 0 {
		s.SetY(top + 32)
	}
	s.Ln(2)
}

// drawing scales a figure of 120 by 100 to a width in mm.
func (s *sheet) drawing(shapes []catalog.Shape, x, y, w float64) {
	k := w / 120
	s.SetLineCapStyle("round")
	s.SetLineJoinStyle("round")
	for _, shape := range shapes {
		s.SetDrawColor(0, 0, 0)
		s.SetLineWidth(0.7)
		if shape.Kit {
			s.SetDrawColor(120, 120, 120)
			s.SetLineWidth(0.4)
		}
		if shape.R > 0 {
			s.Circle(x+k*shape.Points[0].X, y+k*shape.Points[0].Y, k*shape.R, "D")
			continue
		}
		for i := 1; i < len(shape.Points); i++ {
			a, b := shape.Points[i-1], shape.Points[i]
			s.Line(x+k*a.X, y+k*a.Y, x+k*b.X, y+k*b.Y)
		}
	}
}
