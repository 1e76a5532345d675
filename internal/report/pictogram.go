package report

import (
	"fmt"
	"strconv"
	"strings"
)

// shape is one filled outline of a pictogram: a path of the commands M, L, C and Z
// with absolute coordinates in a box of 100 × 100, in SVG notation. It is black
// unless white is set.
type shape struct {
	path  string
	white bool
}

// circle returns a circle as four cubic curves.
func circle(x, y, r float64) string { return ellipse(x, y, r, r) }

func ellipse(x, y, a, b float64) string {
	const k = 0.5523 // the cubic that comes nearest to a quarter of a circle
	return fmt.Sprintf("M %g %g C %g %g %g %g %g %g C %g %g %g %g %g %g C %g %g %g %g %g %g C %g %g %g %g %g %g Z",
		x+a, y, x+a, y+k*b, x+k*a, y+b, x, y+b, x-k*a, y+b, x-a, y+k*b, x-a, y,
		x-a, y-k*b, x-k*a, y-b, x, y-b, x+k*a, y-b, x+a, y-k*b, x+a, y)
}

// pictograms holds the symbols of UN GHS, annex 1, redrawn as outlines: a
// symbol in a diamond (the frame is added when one is drawn).
var pictograms = map[string]struct {
	name   string
	shapes []shape
}{
	"GHS02": {
		"flame",
		[]shape{
			{
				path: "M 50 74 C 33 72 29 56 37 44 C 39 51 42 53 44 52 C 40 40 45 29 55 20 C 54 30 63 37 65 47 C 67 45 67.500 42 67 39 C 74 53 68 73 50 74 Z",
			},
			{path: "M 50 71 C 43 69 42 60 47 54 C 49 59 54 60 55 65 C 55 68 53 70.500 50 71 Z", white: true},
			{path: "M 33 77 L 67 77 L 67 80.500 L 33 80.500 Z"},
		},
	},
	"GHS03": {
		"flame over circle",
		[]shape{
			{path: circle(50, 62, 15)},
			{path: circle(50, 62, 10.5), white: true},
			{
				path: "M 50 50 C 40 48 38 38 43 31 C 44 35 46 36 47 36 C 45 29 48 23 54 18 C 53 24 58 27 59 32 C 60 31 60.500 29.500 60.500 28 C 64 36 62 48 50 50 Z",
			},
			{path: "M 50 48 C 46 46 46 41 49 38 C 50 41 53 41 53 44 C 53 46 52 47.500 50 48 Z", white: true},
			{path: "M 33 79 L 67 79 L 67 82.500 L 33 82.500 Z"},
		},
	},
	"GHS05": {"corrosion", []shape{
		{path: "M 26 38 L 44 28 L 46.500 32.500 L 28.500 42.500 Z"},
		{path: "M 44 33 L 47 33 L 46 43 L 44.500 43 Z"},
		{path: "M 74 38 L 56 28 L 53.500 32.500 L 71.500 42.500 Z"},
		{path: "M 53 33 L 56 33 L 55.500 43 L 54 43 Z"},
		{path: circle(45.2, 47, 1.6)},
		{path: circle(54.8, 47, 1.6)},
		{path: "M 20 57 L 39 57 C 41 61 44 62 46 57 L 48 57 L 48 63 L 26 63 Z"},
		{path: "M 52 58 L 55 54 C 57 58 58 58 60 54 L 74 54 C 78 56 80 59 79 62 L 62 63 C 58 64 55 66 51 65 L 51 62 L 57 60 Z"},
		{path: "M 36 72 L 64 72 L 61 75 L 39 75 Z"},
	}},
	"GHS06": {
		"skull and crossbones",
		[]shape{
			{path: "M 26 58 L 29 54 L 74 74 L 75 78 L 70 79 L 26 61 Z"},
			{path: "M 74 58 L 71 54 L 26 74 L 25 78 L 30 79 L 74 61 Z"},
			{path: ellipse(50, 38, 17, 16)},
			{path: "M 40 48 L 60 48 L 59 60 L 41 60 Z"},
			{path: circle(43, 39, 4.5), white: true},
			{path: circle(57, 39, 4.5), white: true},
			{path: "M 50 44 L 53 50 L 47 50 Z", white: true},
			{
				path:  "M 45 54 L 46.500 54 L 46.500 60 L 45 60 Z",
				white: true,
			},
			{path: "M 49.250 54 L 50.750 54 L 50.750 60 L 49.250 60 Z", white: true},
			{path: "M 53.500 54 L 55 54 L 55 60 L 53.500 60 Z", white: true},
		},
	},
	"GHS07": {"exclamation mark", []shape{
		{path: "M 43 22 L 57 22 L 54 60 L 46 60 Z"}, {path: circle(50, 71, 6)},
	}},
	"GHS08": {
		"health hazard",
		[]shape{
			{path: circle(50, 27, 9)},
			{path: "M 30 76 L 30 52 C 31 44 38 39 44 38 L 56 38 C 62 39 69 44 70 52 L 70 76 L 62 82 L 38 82 Z"},
			{
				path:  "M 50 44 L 53 54 L 62 50 L 57 59 L 66 64 L 56 65 L 57 76 L 50 68 L 43 76 L 44 65 L 34 64 L 43 59 L 38 50 L 47 54 Z",
				white: true,
			},
		},
	},
	"GHS09": {"environment", []shape{
		{path: "M 22 66 L 78 66 L 78 69 L 22 69 Z"},
		{path: "M 36 66 L 38 48 L 28 38 L 30 36.500 L 38 43 L 37 28 L 40 28 L 41 40 L 49 32 L 51 34 L 42 45 L 43 66 Z"},
		{path: "M 48 62 C 55 52 66 52 72 60 L 79 55 L 78 66 L 72 63 C 66 69 55 69 48 62 Z"},
		{path: circle(54.500, 60, 1.5), white: true},
	}},
}

// frame is the diamond of a GHS pictogram.
const (
	frameOuter = "M 50 1 L 99 50 L 50 99 L 1 50 Z"
	frameInner = "M 50 8 L 92 50 L 50 92 L 8 50 Z"
)

// PictogramSVG draws a pictogram; ok is false for a code that has none.
func PictogramSVG(code string) (svg string, ok bool) {
	p, ok := pictograms[code]
	if !ok {
		return "", false
	}
	var b strings.Builder
	fmt.Fprintf(&b, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100" role="img"><title>%s</title>`, p.name)
	fmt.Fprintf(&b, `<path d="%s" fill="#d4001a"/><path d="%s" fill="#fff"/>`, frameOuter, frameInner)
	for _, s := range p.shapes {
		fill := "#000"
		if s.white {
			fill = "#fff"
		}
		fmt.Fprintf(&b, `<path d="%s" fill="%s"/>`, s.path, fill)
	}
	b.WriteString("</svg>")
	return b.String(), true
}

// pathPen is what a path is drawn with.
type pathPen interface {
	MoveTo(x, y float64)
	LineTo(x, y float64)
	CurveBezierCubicTo(cx0, cy0, cx1, cy1, x, y float64)
	ClosePath()
}

// trace draws a path with a pen, the box of 100 × 100 scaled to size at x, y.
func trace(pen pathPen, path string, x, y, size float64) {
	words := strings.Fields(path)
	take := func(n int) []float64 {
		numbers := make([]float64, n)
		for i := range numbers {
			v, _ := strconv.ParseFloat(words[i], 64) // the paths above are constants
			offset := x
			if i%2 == 1 {
				offset = y
			}
			numbers[i] = offset + v*size/100
		}
		words = words[n:]
		return numbers
	}
	for len(words) > 0 {
		command := words[0]
		words = words[1:]
		switch command {
		case "M":
			p := take(2)
			pen.MoveTo(p[0], p[1])
		case "L":
			p := take(2)
			pen.LineTo(p[0], p[1])
		case "C":
			p := take(6)
			pen.CurveBezierCubicTo(p[0], p[1], p[2], p[3], p[4], p[5])
		case "Z":
			pen.ClosePath()
		}
	}
}
