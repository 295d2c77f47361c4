package catalog

import (
	"fmt"
	"strconv"
	"strings"
)

// Point is a place on a drawing of 120 by 100; y grows downwards, the floor is at 95.
type Point struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
}

// Shape is one line of a drawing, or a circle when R is set. Kit is drawn thinner than the body.
type Shape struct {
	Points []Point `json:"points"`
	R      float64 `json:"r,omitempty"`
	Kit    bool    `json:"kit,omitempty"`
}

func line(kit bool, xy ...float64) Shape {
	s := Shape{Kit: kit, Points: []Point{}}
	for i := 0; i+1 < len(xy); i += 2 {
		s.Points = append(s.Points, Point{xy[i], xy[i+1]})
	}
	return s
}

func circle(kit bool, x, y, r float64) Shape {
	return Shape{Points: []Point{{x, y}}, R: r, Kit: kit}
}

// poses are the reusable figures, seen from the side and facing right: hip, knee, ankle, heel, ball,
// toe as they come.
var poses = map[string][]Shape{
	"leg standing": {line(false, 60, 26, 61, 60, 58, 87, 53, 95, 70, 95, 79, 95), line(false, 58, 87, 70, 95)},
	"leg tiptoe":   {line(false, 60, 22, 60, 50, 58, 76, 54, 83, 69, 95, 78, 95), line(false, 58, 76, 69, 95)},
	"leg lunge": {line(false, 50, 52, 88, 62, 63, 87, 57, 95, 76, 95, 85, 95), line(false, 63, 87, 76, 95),
		line(false, 50, 52, 26, 78, 10, 93), line(false, 50, 52, 54, 18), circle(false, 55, 10, 6)},
	"leg back": {line(false, 58, 42, 42, 66, 25, 87, 20, 95, 38, 95, 45, 95), line(false, 25, 87, 38, 95),
		line(false, 58, 42, 78, 64, 74, 87, 70, 95, 84, 95), line(false, 58, 42, 72, 16, 98, 26), circle(false, 75, 8, 6)},
	"leg seated": {line(false, 38, 60, 72, 60, 69, 87, 64, 95, 82, 95, 90, 95), line(false, 69, 87, 82, 95), line(false, 38, 60, 36, 24),
		circle(false, 37, 14, 7)},
	"leg onstep":  {line(false, 58, 8, 58, 36, 55, 62, 49, 82, 64, 75, 73, 75), line(false, 55, 62, 64, 75)},
	"leg toeroll": {line(false, 70, 18, 71, 48, 69, 74, 64, 82, 80, 94, 90, 82), line(false, 69, 74, 80, 94), circle(true, 94, 88, 7)},
	"leg wallean": {line(false, 31, 22, 34, 54, 48, 70, 60, 88, 57, 95, 72, 86, 78, 80), circle(false, 31, 12, 6)},
	"leg swing": {line(true, 46, 95, 46, 82, 76, 82, 76, 95), line(false, 60, 20, 61, 48, 58, 74, 53, 82, 70, 82),
		line(false, 60, 20, 82, 46, 92, 70, 100, 68), line(false, 60, 20, 62, 4)},
	"foot toesup": {line(false, 56, 30, 52, 76, 46, 95, 84, 95, 95, 76), line(false, 52, 76, 84, 95)},
	"foot toestack": {line(false, 46, 30, 42, 76, 36, 95, 74, 95, 96, 84), line(false, 42, 76, 74, 95),
		line(true, 86, 95, 106, 95), line(true, 86, 91, 106, 91), line(true, 86, 87, 106, 87)},
	"body fours":    {line(false, 22, 95, 26, 85, 46, 95, 50, 62, 86, 56, 88, 95), circle(false, 97, 50, 6)},
	"body kneeling": {line(false, 28, 95, 34, 82, 70, 94, 40, 76, 44, 40, 56, 66), circle(false, 46, 30, 7)},
	"body sitting":  {line(false, 98, 70, 92, 84, 60, 82, 30, 90, 24, 56, 10, 92), circle(false, 26, 46, 7)},
	"body halfkneel": {line(false, 12, 92, 36, 95, 44, 60, 76, 62, 76, 88, 72, 95, 90, 95), line(false, 44, 60, 46, 28),
		circle(false, 47, 18, 7)},
	"body wallsit": {line(false, 31, 28, 33, 64, 68, 66, 64, 84, 59, 90, 74, 95, 80, 95), circle(false, 32, 18, 6)},
	"body bounce": {line(false, 62, 20, 56, 46, 60, 66, 53, 80, 49, 84, 62, 90, 68, 91), line(false, 62, 20, 76, 40, 88, 50),
		circle(false, 64, 10, 6)},
}

// kit draws equipment from its figures, in the units of the drawing.
var kit = map[string]struct {
	args int
	draw func(a []float64) []Shape
}{
	"floor": {0, func([]float64) []Shape { return []Shape{line(true, 2, 97, 118, 97)} }},
	"seat": {0, func([]float64) []Shape {
		return []Shape{line(true, 2, 97, 118, 97), line(true, 18, 97, 18, 66, 50, 66, 50, 97)}
	}},
	"wall": {1, func(a []float64) []Shape { return []Shape{line(true, a[0], 3, a[0], 97)} }},
	"step": {1, func(a []float64) []Shape { return []Shape{line(true, a[0], 97, a[0], 77, 118, 77)} }},
	"table": {1, func(a []float64) []Shape {
		return []Shape{line(true, a[0]-18, 52, a[0]+18, 52), line(true, a[0]+14, 52, a[0]+14, 97)}
	}},
	"towel": {1, func(a []float64) []Shape {
		return []Shape{line(true, a[0]-22, 96, a[0]-12, 94, a[0]-4, 96, a[0]+14, 96)}
	}},
	"ball": {3, func(a []float64) []Shape { return []Shape{circle(true, a[0], a[1], a[2])} }},
	"band": {4, func(a []float64) []Shape {
		return []Shape{line(true, a[0], a[1], a[2], a[3]), circle(true, a[2], a[3], 2)}
	}},
	"dumbbell": {2, func(a []float64) []Shape {
		return []Shape{line(true, a[0]-7, a[1], a[0]+7, a[1]), circle(true, a[0]-8, a[1], 3), circle(true, a[0]+8, a[1], 3)}
	}},
}

// Drawing reads the exercise's figure parts: a pose by name, or kit with its figures, such as "wall 92"
// or "ball 78 88 6". Without parts there is no drawing.
func (x Exercise) Drawing() ([]Shape, error) {
	out := []Shape{}
	for _, part := range x.Draw {
		if p, ok := poses[part]; ok {
			out = append(out, p...)
			continue
		}
		words := strings.Fields(part)
		if len(words) == 0 {
			continue
		}
		k, ok := kit[words[0]]
		if !ok || len(words)-1 != k.args {
			return nil, fmt.Errorf("has no figure part “%s”", part)
		}
		args := make([]float64, 0, k.args)
		for _, w := range words[1:] {
			v, err := strconv.ParseFloat(w, 64)
			if err != nil || v < 0 || v > 120 {
				return nil, fmt.Errorf("“%s”: figures from 0 to 120", part)
			}
			args = append(args, v)
		}
		out = append(out, k.draw(args)...)
	}
	return out, nil
}
