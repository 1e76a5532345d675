// Package report makes what is printed or carried away: labels as PDF, tables as
// CSV, pictograms as drawings.
package report

import (
	"bytes"
	_ "embed"
	"fmt"
	"io"
	"strings"
	"time"

	"github.com/go-pdf/fpdf"
	"github.com/skip2/go-qrcode"

	"vialbench/core/formula"
)

//go:embed fonts/AtkinsonHyperlegibleNext_400Regular.ttf
var regularFont []byte

//go:embed fonts/AtkinsonHyperlegibleNext_700Bold.ttf
var boldFont []byte

// Label is what stands on the label of one bottle.
type Label struct {
	Lab           string
	Number        int64
	Name          string
	Formula       []formula.Piece
	Concentration string // "0.099731 ± 0.000090 mol/L"
	Exact         bool
	By            string
	Made, Expires time.Time
	Signal        string
	Pictograms    []string
	// Hazards are those of what it was made from, which Origin names.
	Hazards []string
	Origin  string
	// URL opens the bottle; it goes into the QR code.
	URL string
}

// Paper is what the labels are printed on.
type Paper string

// The papers: one label a page, or sheets of labels.
const (
	SingleLabel Paper = "label"
	A4          Paper = "a4"
	Letter      Paper = "letter"
)

// The size of a label and of the gaps between them, in mm.
const (
	labelWidth, labelHeight = 90.0, 50.0
	gapAcross, gapDown      = 6.0, 2.0
	columns, rows           = 2, 5
)

// Labels writes labels as a PDF. On a sheet the first label goes to position
// start, counted from 1 along the rows.
func Labels(w io.Writer, labels []Label, paper Paper, start int) error {
	size := map[Paper]fpdf.SizeType{SingleLabel: {Wd: labelWidth, Ht: labelHeight}, A4: {Wd: 210, Ht: 297}, Letter: {Wd: 215.9, Ht: 279.4}}[paper]
	if size.Wd == 0 {
		return fmt.Errorf("no paper “%s”: use label, a4 or letter", paper)
	}
	pdf := fpdf.NewCustom(&fpdf.InitType{UnitStr: "mm", Size: size, OrientationStr: "P"})
	if paper == SingleLabel {
		pdf = fpdf.NewCustom(&fpdf.InitType{UnitStr: "mm", Size: fpdf.SizeType{Wd: labelHeight, Ht: labelWidth}, OrientationStr: "L"})
	}
	pdf.SetMargins(0, 0, 0)
	pdf.SetAutoPageBreak(false, 0)
	pdf.AddUTF8FontFromBytes("text", "", regularFont)
	pdf.AddUTF8FontFromBytes("text", "B", boldFont)
	pdf.SetTitle("Labels", true)
	pdf.SetCatalogSort(true)
	if len(labels) > 0 { // the same labels are the same bytes
		pdf.SetCreationDate(labels[0].Made)
		pdf.SetModificationDate(labels[0].Made)
	}
	perPage := columns * rows
	if paper == SingleLabel {
		perPage, start = 1, 1
	}
	place := (max(1, start) - 1) % perPage
	left := (size.Wd - columns*labelWidth - (columns-1)*gapAcross) / 2
	top := (size.Ht - rows*labelHeight - (rows-1)*gapDown) / 2
	for i, label := range labels {
		if i == 0 || place == 0 {
			pdf.AddPage()
		}
		x, y := 0.0, 0.0
		if paper != SingleLabel {
			x = left + float64(place%columns)*(labelWidth+gapAcross)
			y = top + float64(place/columns)*(labelHeight+gapDown)
			pdf.SetDrawColor(190, 190, 190)
			pdf.SetLineWidth(0.1)
			pdf.Rect(x, y, labelWidth, labelHeight, "D")
		}
		if err := drawLabel(pdf, label, x, y); err != nil {
			return err
		}
		place = (place + 1) % perPage
	}
	return pdf.Output(w)
}

func drawLabel(pdf *fpdf.Fpdf, l Label, x, y float64) error {
	const margin, qr = 3.5, 19.0
	right := x + labelWidth - margin
	textWidth := labelWidth - 2*margin - qr - 2

	code, err := qrcode.Encode(l.URL, qrcode.Medium, 400)
	if err != nil {
		return fmt.Errorf("the QR code of bottle %d: %w", l.Number, err)
	}
	image := fmt.Sprintf("qr%d", l.Number)
	pdf.RegisterImageOptionsReader(image, fpdf.ImageOptions{ImageType: "PNG"}, bytes.NewReader(code))
	pdf.ImageOptions(image, right-qr+1.5, y+margin-1.5, qr, qr, false, fpdf.ImageOptions{ImageType: "PNG"}, 0, "")

	pdf.SetTextColor(20, 32, 38)
	fit(pdf, "B", 13, 7.5, textWidth, l.Name)
	name := wrap(pdf, l.Name, textWidth, 2)
	line := y + margin
	_, height := pdf.GetFontSize()
	for _, text := range name {
		pdf.Text(x+margin, line+height*0.8, text)
		line += height * 1.08
	}
	typeset(pdf, l.Formula, x+margin, line+4.2, 10.5)
	line += 7.2

	fit(pdf, "B", 17, 9, textWidth, l.Concentration)
	_, height = pdf.GetFontSize()
	pdf.Text(x+margin, line+height*0.8, l.Concentration)
	line += height + 1.2
	pdf.SetFont("text", "", 7.5)
	basis := "U with k = 2, at 20 °C"
	if !l.Exact {
		basis = "approximate until standardised · " + basis
	}
	pdf.Text(x+margin, line+2, basis)

	// Hazards in the middle, record at the bottom.
	const symbol = 11.5
	bottom := y + labelHeight - margin
	hx := x + margin
	for _, p := range l.Pictograms {
		drawPictogram(pdf, p, hx, bottom-symbol-3.6, symbol)
		hx += symbol + 0.6
	}
	if l.Signal != "" || len(l.Hazards) > 0 {
		pdf.SetFont("text", "B", 9)
		at := bottom - symbol - 0.8
		pdf.Text(hx+1, at, l.Signal)
		pdf.SetFont("text", "", 5.8)
		for _, text := range wrap(pdf, "Of the "+l.Origin+": "+strings.Join(l.Hazards, ". "), right-hx-1, 4) {
			at += 2.35
			pdf.Text(hx+1, at, text)
		}
	}
	pdf.SetFont("text", "B", 8)
	foot := fmt.Sprintf("Made %s  %s", l.Made.Format(time.DateOnly), l.By)
	pdf.Text(x+margin, bottom, foot)
	middle := fmt.Sprintf("Use by %s", l.Expires.Format(time.DateOnly))
	pdf.Text(x+margin+pdf.GetStringWidth(foot)+4, bottom, middle)
	pdf.SetFont("text", "", 7)
	number := fmt.Sprintf("bottle %d", l.Number)
	pdf.Text(right-qr/2+1.5-pdf.GetStringWidth(number)/2, y+margin+qr+1.2, number)
	room := labelWidth - 2*margin - 58
	if lines := wrap(pdf, l.Lab, room, 1); len(lines) > 0 {
		pdf.Text(right-pdf.GetStringWidth(lines[0]), bottom, lines[0])
	}
	return nil
}

func drawPictogram(pdf *fpdf.Fpdf, code string, x, y, size float64) {
	fill := func(path string, r, g, b int) {
		pdf.SetFillColor(r, g, b)
		trace(pdf, path, x, y, size)
		pdf.DrawPath("F")
	}
	fill(frameOuter, 212, 0, 26)
	fill(frameInner, 255, 255, 255)
	for _, s := range pictograms[code].shapes {
		if s.white {
			fill(s.path, 255, 255, 255)
		} else {
			fill(s.path, 0, 0, 0)
		}
	}
}

// fit sets the largest size between most and least points at which text is no
// wider than width.
func fit(pdf *fpdf.Fpdf, style string, most, least, width float64, text string) {
	for size := most; ; size -= 0.5 {
		pdf.SetFont("text", style, size)
		if size <= least || pdf.GetStringWidth(text) <= width {
			return
		}
	}
}

// wrap breaks text into at most so many lines of a width; what is left over is
// cut with an ellipsis.
func wrap(pdf *fpdf.Fpdf, text string, width float64, most int) []string {
	var lines []string
	line := ""
	for _, word := range strings.Fields(text) {
		longer := strings.TrimSpace(line + " " + word)
		if pdf.GetStringWidth(longer) <= width {
			line = longer
			continue
		}
		if line != "" {
			lines = append(lines, line)
		}
		for pdf.GetStringWidth(word) > width && len([]rune(word)) > 1 {
			r := []rune(word)
			n := len(r) - 1
			for n > 1 && pdf.GetStringWidth(string(r[:n])) > width {
				n--
			}
			lines = append(lines, string(r[:n]))
			word = string(r[n:])
		}
		line = word
	}
	if line != "" {
		lines = append(lines, line)
	}
	if len(lines) > most {
		lines = lines[:most]
		last := []rune(lines[most-1])
		for len(last) > 0 && pdf.GetStringWidth(string(last)+"…") > width {
			last = last[:len(last)-1]
		}
		lines[most-1] = string(last) + "…"
	}
	return lines
}

// typeset sets a formula with its indices and charges.
func typeset(pdf *fpdf.Fpdf, pieces []formula.Piece, x, y, size float64) {
	for _, p := range pieces {
		at, points := y, size
		switch p.Style {
		case formula.Sub:
			at, points = y+size*0.09, size*0.72
		case formula.Sup:
			at, points = y-size*0.13, size*0.72
		}
		pdf.SetFont("text", "", points)
		pdf.Text(x, at, p.Text)
		x += pdf.GetStringWidth(p.Text) + 0.1
	}
}
