package report

import (
	"math"
	"strconv"
	"strings"

	"github.com/go-pdf/fpdf"

	"vialbench/core/run"
)

// The measures of a plot, in mm: its height, and the room for its axes.
const (
	plotHeight = 92.0
	lowPlot    = 46.0 // of one under another
	plotLeft   = 16.0
	plotBottom = 10.0
	plotTop    = 9.0
	dot        = 0.9
)

// frame brings values to places on the page.
type frame struct {
	x, y         scale
	left, top    float64
	width, depth float64
}

// scale is an axis.
type scale struct{ from, to float64 }

func (f frame) at(p [2]float64) (x, y float64) {
	return f.left + f.width*(p[0]-f.x.from)/(f.x.to-f.x.from), f.top + f.depth*(1-(p[1]-f.y.from)/(f.y.to-f.y.from))
}

// scaleOf holds all values, with some room.
func scaleOf(list []float64) scale {
	low, high := math.Inf(1), math.Inf(-1)
	for _, v := range list {
		low, high = min(low, v), max(high, v)
	}
	room := 0.04 * (high - low)
	if room == 0 {
		room = max(0.5, 0.1*math.Abs(high))
	}
	s := scale{low - room, high + room}
	if low >= 0 && s.from < 0 { // nothing is below nothing
		s.from = 0
	}
	return s
}

// ticks are round values within a scale: 1, 2 or 5 times a power of ten apart, about so many.
func (s scale) ticks(about int) (list []float64, decimals int) {
	raw := (s.to - s.from) / float64(about)
	power := math.Pow(10, math.Floor(math.Log10(raw)))
	step := 10 * power
	for _, m := range []float64{1, 2, 5} {
		if m*power >= raw {
			step = m * power
			break
		}
	}
	for i := math.Ceil(s.from/step - 1e-9); i*step <= s.to+1e-9*step; i++ {
		list = append(list, i*step)
	}
	return list, max(0, int(math.Ceil(-math.Log10(step)-1e-9)))
}

func tickText(v float64, decimals int) string {
	text := strconv.FormatFloat(v+0, 'f', decimals, 64)
	if strings.Trim(text, "-0.") == "" {
		text = strings.TrimPrefix(text, "-")
	}
	return strings.Replace(text, "-", "−", 1)
}

// drawPlot draws a plot as vectors from where the page stands.
func drawPlot(pdf *fpdf.Fpdf, p run.Plot, height float64) {
	keepTogether(pdf, height+4)
	var xs, ys []float64
	for _, list := range append(append([][][2]float64{p.Points, p.Hollow, p.Drops}, p.Lines...), p.Areas...) {
		for _, at := range list {
			xs, ys = append(xs, at[0]), append(ys, at[1])
		}
	}
	if len(xs) == 0 {
		return
	}
	f := frame{
		x: scaleOf(xs), y: scaleOf(ys), left: sheetMargin + plotLeft, top: pdf.GetY() + plotTop,
		width: sheetWidth - plotLeft, depth: height - plotTop - plotBottom,
	}
	f.axes(pdf, p)
	pdf.SetFillColor(214, 232, 222)
	for _, area := range p.Areas {
		var corners []fpdf.PointType
		for _, at := range area {
			x, y := f.at(at)
			corners = append(corners, fpdf.PointType{X: x, Y: y})
		}
		pdf.Polygon(corners, "F")
	}
	pdf.SetLineWidth(0.35)
	for _, line := range p.Lines {
		for i := 1; i < len(line); i++ {
			x1, y1 := f.at(line[i-1])
			x2, y2 := f.at(line[i])
			pdf.Line(x1, y1, x2, y2)
		}
	}
	pdf.SetLineWidth(0.2)
	f.drops(pdf, p)
	pdf.SetFillColor(20, 60, 45)
	for _, at := range p.Points {
		x, y := f.at(at)
		pdf.Circle(x, y, dot, "F")
	}
	for _, at := range p.Hollow {
		x, y := f.at(at)
		pdf.Circle(x, y, dot, "D")
	}
	pdf.SetXY(sheetMargin, f.top+f.depth+plotBottom)
}

// axes draws the two axes with their ticks and names.
func (f frame) axes(pdf *fpdf.Fpdf, p run.Plot) {
	pdf.SetFont("text", "", 8)
	pdf.SetLineWidth(0.2)
	pdf.Text(sheetMargin, f.top-3, p.YLabel)
	pdf.Line(f.left, f.top, f.left, f.top+f.depth)
	pdf.Line(f.left, f.top+f.depth, f.left+f.width, f.top+f.depth)
	list, decimals := f.x.ticks(8)
	for _, v := range list {
		x, y := f.at([2]float64{v, f.y.from})
		text := tickText(v, decimals)
		pdf.Line(x, y, x, y+1.2)
		pdf.Text(x-pdf.GetStringWidth(text)/2, y+4.4, text)
	}
	pdf.Text(f.left+f.width-pdf.GetStringWidth(p.XLabel), f.top+f.depth+8.4, p.XLabel)
	list, decimals = f.y.ticks(6)
	for _, v := range list {
		x, y := f.at([2]float64{f.x.from, v})
		text := tickText(v, decimals)
		pdf.Line(x-1.2, y, x, y)
		pdf.Text(x-2-pdf.GetStringWidth(text), y+1.1, text)
	}
}

// drops lead to the points that were read from a line, with their names.
func (f frame) drops(pdf *fpdf.Fpdf, p run.Plot) {
	pdf.SetDashPattern([]float64{1, 1}, 0)
	for i, at := range p.Drops {
		x, y := f.at(at)
		pdf.Line(f.left, y, x, y)
		pdf.Line(x, y, x, f.top+f.depth)
		pdf.Text(min(x+1, f.left+f.width-pdf.GetStringWidth(p.Names[i])), f.top+f.depth-1.5-3.4*float64(i%4), p.Names[i])
	}
	pdf.SetDashPattern(nil, 0)
}
