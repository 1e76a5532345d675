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

// Label is what is on the label of one bottle.
type Label struct {
	Lab    string
	Number int64
	// Tube is its place in the rack, from 1; 0 of a bottle.
	Tube int
	// Doubted reports whether what it was made with or from is in doubt.
	Doubted bool
	Name    string
	Formula []formula.Piece
	// Concentrations has a line for each solute: "0.099731 ± 0.000090 mol/L".
	Concentrations []string
	Exact          bool
	By             string
	Made, Expires  time.Time
	// StandardiseBy is the day to standardise it again; zero when it need not be.
	StandardiseBy time.Time
	Signal        string
	Pictograms    []string
	// Hazards are those of the solution at its strength; Unclassified reports whether what is
	// in it is not known well enough to say.
	Hazards      []string
	Unclassified bool
	// For is the session that it was made for; empty of none.
	For string
	// URL opens the bottle; it goes into the QR code.
	URL string
}

// Paper is what the labels are printed on.
type Paper string

// The papers: one label a page, as a roll has them, sheets of bottle labels, and the same of small ones
// for vials.
const (
	SingleLabel Paper = "label"
	A4          Paper = "a4"
	Letter      Paper = "letter"
	Vials       Paper = "vials"
	SingleVial  Paper = "vial"
)

// layout places labels on a page, all in mm.
type layout struct {
	page          fpdf.SizeType
	width, height float64 // of a label
	across, down  float64 // gaps
	columns, rows int
	draw          func(*fpdf.Fpdf, Label, float64, float64) error
}

// The size of a bottle label, in mm.
const labelWidth, labelHeight = 90.0, 50.0

var layouts = map[Paper]layout{
	SingleLabel: {fpdf.SizeType{Wd: labelWidth, Ht: labelHeight}, labelWidth, labelHeight, 0, 0, 1, 1, drawLabel},
	A4:          {fpdf.SizeType{Wd: 210, Ht: 297}, labelWidth, labelHeight, 6, 2, 2, 5, drawLabel},
	Letter:      {fpdf.SizeType{Wd: 215.9, Ht: 279.4}, labelWidth, labelHeight, 6, 2, 2, 5, drawLabel},
	Vials:       {fpdf.SizeType{Wd: 210, Ht: 297}, vialWidth, vialHeight, 2, 0, 5, 13, drawVial},
	SingleVial:  {fpdf.SizeType{Wd: vialWidth, Ht: vialHeight}, vialWidth, vialHeight, 0, 0, 1, 1, drawVial},
}

// PerSheet is how many labels a sheet of a paper has.
func PerSheet(paper Paper) int { return layouts[paper].columns * layouts[paper].rows }

// Labels writes labels as a PDF. On a sheet the first label goes to position
// start, counted from 1 along the rows.
func Labels(w io.Writer, labels []Label, paper Paper, start int) error {
	on, ok := layouts[paper]
	if !ok {
		return fmt.Errorf("no paper “%s”: use label, a4, letter, vials or vial", paper)
	}
	pdf := fpdf.NewCustom(&fpdf.InitType{UnitStr: "mm", Size: on.page, OrientationStr: "P"})
	if on.page.Wd > on.page.Ht {
		pdf = fpdf.NewCustom(&fpdf.InitType{UnitStr: "mm", Size: fpdf.SizeType{Wd: on.page.Ht, Ht: on.page.Wd}, OrientationStr: "L"})
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
	perPage := PerSheet(paper)
	place := (max(1, start) - 1) % perPage
	left := (on.page.Wd - float64(on.columns)*on.width - float64(on.columns-1)*on.across) / 2
	top := (on.page.Ht - float64(on.rows)*on.height - float64(on.rows-1)*on.down) / 2
	for i, label := range labels {
		if i == 0 || place == 0 {
			pdf.AddPage()
		}
		x := left + float64(place%on.columns)*(on.width+on.across)
		y := top + float64(place/on.columns)*(on.height+on.down)
		if perPage > 1 {
			pdf.SetDrawColor(190, 190, 190)
			pdf.SetLineWidth(0.1)
			pdf.Rect(x, y, on.width, on.height, "D")
		}
		if err := on.draw(pdf, label, x, y); err != nil {
			return err
		}
		place = (place + 1) % perPage
	}
	return pdf.Output(w)
}

// doubtful is what a label says of a bottle in doubt.
const doubtful = "in doubt, see its record"

// place says which bottle it is, and which tube of its rack.
func (l Label) place() string {
	if l.Tube > 0 {
		return fmt.Sprintf("tube %d, bottle %d", l.Tube, l.Number)
	}
	return fmt.Sprintf("bottle %d", l.Number)
}

// drawCode draws the QR code that opens the bottle.
func drawCode(pdf *fpdf.Fpdf, l Label, x, y, size float64) error {
	return drawQR(pdf, l.URL, x, y, size)
}

// drawQR draws the QR code that opens an address.
func drawQR(pdf *fpdf.Fpdf, url string, x, y, size float64) error {
	code, err := qrcode.Encode(url, qrcode.Medium, 400)
	if err != nil {
		return fmt.Errorf("the QR code of %s: %w", url, err)
	}
	image := "qr " + url
	pdf.RegisterImageOptionsReader(image, fpdf.ImageOptions{ImageType: "PNG"}, bytes.NewReader(code))
	pdf.ImageOptions(image, x, y, size, size, false, fpdf.ImageOptions{ImageType: "PNG"}, 0, "")
	return nil
}

// The size of a label for a small vial, in mm.
const vialWidth, vialHeight = 38.0, 21.0

// drawVial draws the small label: what, how strong, until when, which bottle.
func drawVial(pdf *fpdf.Fpdf, l Label, x, y float64) error {
	const margin, qr = 1.6, 10.0
	if err := drawCode(pdf, l, x+vialWidth-qr-0.6, y+vialHeight-qr-0.6, qr); err != nil {
		return err
	}
	pdf.SetTextColor(20, 32, 38)
	width := vialWidth - 2*margin
	fit(pdf, 7.5, 5.5, width, l.Name)
	at := y + margin
	_, height := pdf.GetFontSize()
	for _, text := range wrap(pdf, l.Name, width, 2) {
		pdf.Text(x+margin, at+height*0.8, text)
		at += height * 1.05
	}
	for _, c := range l.Concentrations {
		fit(pdf, 7.5, 4.5, width, c)
		_, height = pdf.GetFontSize()
		pdf.Text(x+margin, at+height*0.85, c)
		at += height * 1.1
	}
	pdf.SetFont("text", "", 5)
	at = y + vialHeight - margin
	lines := []string{l.place() + ", " + l.By}
	if l.Doubted {
		lines = append(lines, strings.ToUpper(doubtful))
	}
	if !l.Expires.IsZero() {
		lines = append(lines, "use by "+l.Expires.Format(time.DateOnly))
	}
	if says := vialHazards(l); says != "" {
		lines = append(lines, says)
	}
	for _, text := range lines {
		pdf.Text(x+margin, at, text)
		at -= 2.1
	}
	return nil
}

// vialHazards is what a small label has room for: the signal word with the codes.
func vialHazards(l Label) string {
	if l.Unclassified {
		return "hazards: see the stock"
	}
	if len(l.Hazards) == 0 {
		return ""
	}
	codes := make([]string, len(l.Hazards))
	for i, h := range l.Hazards {
		codes[i], _, _ = strings.Cut(h, " ")
	}
	return strings.TrimSpace(l.Signal + " " + strings.Join(codes, " "))
}

func drawLabel(pdf *fpdf.Fpdf, l Label, x, y float64) error {
	const margin, qr = 3.5, 19.0
	right := x + labelWidth - margin
	textWidth := labelWidth - 2*margin - qr - 2

	if err := drawCode(pdf, l, right-qr+1.5, y+margin-1.5, qr); err != nil {
		return err
	}
	pdf.SetTextColor(20, 32, 38)
	fit(pdf, 13, 7.5, textWidth, l.Name)
	name := wrap(pdf, l.Name, textWidth, 2)
	line := y + margin
	_, height := pdf.GetFontSize()
	for _, text := range name {
		pdf.Text(x+margin, line+height*0.8, text)
		line += height * 1.08
	}
	typeset(pdf, l.Formula, x+margin, line+4.2, 10.5)
	line += 7.2

	largest := 17.0
	if len(l.Concentrations) > 1 {
		largest = 10
	}
	for _, c := range l.Concentrations {
		fit(pdf, largest, 7, textWidth, c)
		_, height = pdf.GetFontSize()
		pdf.Text(x+margin, line+height*0.8, c)
		line += height * 1.08
	}
	basis := "U with k = 2, at 20 °C"
	if !l.Exact {
		basis = "approximate until standardised · " + basis
	}
	if !l.StandardiseBy.IsZero() {
		basis = "standardise again by " + l.StandardiseBy.Format(time.DateOnly) + " · " + basis
	}
	if l.Doubted {
		basis = strings.ToUpper(doubtful) + " · " + basis
	}
	most := 2
	if l.For != "" {
		basis, most = "for "+l.For+" · "+basis, 3
	}
	pdf.SetFont("text", "", 6.2)
	for _, text := range wrap(pdf, basis, textWidth, most) { // beside the QR code and the number below it
		line += 2.5
		pdf.Text(x+margin, line, text)
	}

	// Hazards in the middle, record at the bottom.
	const symbol = 11.5
	bottom := y + labelHeight - margin
	hx := x + margin
	for _, p := range l.Pictograms {
		drawPictogram(pdf, p, hx, bottom-symbol-3.6, symbol)
		hx += symbol + 0.6
	}
	says := strings.Join(l.Hazards, ". ")
	if l.Unclassified {
		says = "Hazards as of what it was made from: see its data sheet."
	}
	if says != "" {
		pdf.SetFont("text", "B", 9)
		at := bottom - symbol - 0.8
		pdf.Text(hx+1, at, l.Signal)
		pdf.SetFont("text", "", 5.8)
		for _, text := range wrap(pdf, says, right-hx-1, 4) {
			at += 2.35
			pdf.Text(hx+1, at, text)
		}
	}
	pdf.SetFont("text", "B", 8)
	foot := fmt.Sprintf("Made %s  %s", l.Made.Format(time.DateOnly), l.By)
	pdf.Text(x+margin, bottom, foot)
	if !l.Expires.IsZero() {
		pdf.Text(x+margin+pdf.GetStringWidth(foot)+4, bottom, "Use by "+l.Expires.Format(time.DateOnly))
	}
	pdf.SetFont("text", "", 7)
	number := l.place()
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

// fit sets the bold type in the largest size between most and least points at which text is no
// wider than width.
func fit(pdf *fpdf.Fpdf, most, least, width float64, text string) {
	for size := most; ; size -= 0.5 {
		pdf.SetFont("text", "B", size)
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
