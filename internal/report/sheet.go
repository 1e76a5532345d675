package report

import (
	"io"
	"time"

	"github.com/go-pdf/fpdf"

	"vialbench/core/run"
)

// Sheet is a page or more for a hand at the bench: headings with rows under them.
type Sheet struct {
	Title, Subtitle string
	Sections        []Section
	Made            time.Time
	// URL goes into a QR code at the top; empty for none.
	URL string
}

// Section is a part of a sheet. Tick puts a box before each row, to be crossed by hand.
type Section struct {
	Heading string
	Tick    bool
	// Widths are shares of the line for each cell of a row; one cell takes all of it when they are empty.
	Widths []float64
	Rows   [][]string
	// Warns prints it in a frame.
	Warns bool
	// Plots stand before the rows.
	Plots []run.Plot
	// Grid rules its cells, tall enough to be written in; the first row names the columns.
	Grid bool
}

// The measures of a sheet, in mm.
const (
	sheetMargin = 16.0
	sheetWidth  = 210 - 2*sheetMargin
	rowHeight   = 5.2
	boxSide     = 3.2
	ruledHeight = 8.5 // of a line that is written in by hand
)

// Write writes the sheet as a PDF on A4.
func (s Sheet) Write(w io.Writer) error { return WriteSheets(w, s.Title, s.Made, []Sheet{s}) }

// WriteSheets writes sheets as one PDF on A4, each from the top of a page.
func WriteSheets(w io.Writer, title string, made time.Time, sheets []Sheet) error {
	pdf := fpdf.New("P", "mm", "A4", "")
	pdf.SetMargins(sheetMargin, sheetMargin, sheetMargin)
	pdf.SetAutoPageBreak(true, sheetMargin)
	pdf.AddUTF8FontFromBytes("text", "", regularFont)
	pdf.AddUTF8FontFromBytes("text", "B", boldFont)
	pdf.SetTitle(title, true)
	pdf.SetCatalogSort(true)
	pdf.SetCreationDate(made)
	pdf.SetModificationDate(made)
	for _, s := range sheets {
		if err := s.draw(pdf); err != nil {
			return err
		}
	}
	return pdf.Output(w)
}

// qrSize is that of the QR code of a sheet, in mm.
const qrSize = 26.0

func (s Sheet) draw(pdf *fpdf.Fpdf) error {
	pdf.AddPage()
	width := 0.0 // all of the line
	if s.URL != "" {
		if err := drawQR(pdf, s.URL, sheetMargin+sheetWidth-qrSize, sheetMargin, qrSize); err != nil {
			return err
		}
		width = sheetWidth - qrSize - 4
	}
	pdf.SetFont("text", "B", 16)
	pdf.MultiCell(width, 8, s.Title, "", "L", false)
	pdf.SetFont("text", "", 10)
	pdf.MultiCell(width, rowHeight, s.Subtitle, "", "L", false)
	if s.URL != "" {
		pdf.SetY(max(pdf.GetY(), sheetMargin+qrSize))
	}
	for _, section := range s.Sections {
		if len(section.Rows)+len(section.Plots) > 0 {
			section.draw(pdf)
		}
	}
	return nil
}

func (s Section) draw(pdf *fpdf.Fpdf) {
	pdf.Ln(4)
	keepTogether(pdf, 8+2*rowHeight)
	pdf.SetFont("text", "B", 12)
	pdf.MultiCell(0, 7, s.Heading, "", "L", false)
	pdf.SetFont("text", "", 10)
	for i, plot := range s.Plots {
		height := plotHeight
		if i > 0 {
			height = lowPlot
		}
		drawPlot(pdf, plot, height)
	}
	pdf.SetFont("text", "", 10)
	top := pdf.GetY()
	for i, row := range s.Rows {
		if s.Grid {
			s.ruled(pdf, row, i == 0)
		} else {
			s.row(pdf, row)
		}
	}
	if s.Warns {
		pdf.SetLineWidth(0.8)
		pdf.Line(sheetMargin-3, top, sheetMargin-3, pdf.GetY())
		pdf.SetLineWidth(0.2)
	}
}

// row draws the cells side by side, each wrapped within its width.
func (s Section) row(pdf *fpdf.Fpdf, row []string) {
	left, width := sheetMargin, sheetWidth
	if s.Tick {
		left, width = left+boxSide+3, width-boxSide-3
	}
	widths := make([]float64, len(row))
	lines, most := make([][]string, len(row)), 1
	for i, text := range row {
		widths[i] = width / float64(len(row))
		if i < len(s.Widths) {
			widths[i] = width * s.Widths[i]
		}
		lines[i] = pdf.SplitText(text, widths[i]-2)
		most = max(most, len(lines[i]))
	}
	keepTogether(pdf, float64(most)*rowHeight)
	y := pdf.GetY()
	if s.Tick {
		pdf.Rect(sheetMargin, y+1, boxSide, boxSide, "D")
	}
	x := left
	for i, cell := range lines {
		for k, line := range cell {
			pdf.SetXY(x, y+float64(k)*rowHeight)
			pdf.CellFormat(widths[i], rowHeight, line, "", 0, "L", false, 0, "")
		}
		x += widths[i]
	}
	pdf.SetXY(sheetMargin, y+float64(most)*rowHeight+0.8)
}

// ruled draws a line of a table that is filled in by hand.
func (s Section) ruled(pdf *fpdf.Fpdf, row []string, head bool) {
	keepTogether(pdf, ruledHeight)
	style := ""
	if head {
		style = "B"
	}
	pdf.SetFont("text", style, 10)
	for _, cell := range row {
		pdf.CellFormat(sheetWidth/float64(len(row)), ruledHeight, cell, "1", 0, "L", false, 0, "")
	}
	pdf.Ln(ruledHeight)
	pdf.SetFont("text", "", 10)
}

// keepTogether begins a new page where so much does not fit on this one.
func keepTogether(pdf *fpdf.Fpdf, height float64) {
	if pdf.GetY()+height > 297-sheetMargin {
		pdf.AddPage()
	}
}
