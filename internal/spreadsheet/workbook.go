package spreadsheet

import (
	"io"

	"github.com/xuri/excelize/v2"
)

// Tab is one sheet of a workbook; its first row names its columns. A cell is a text, a number or a time.
type Tab struct {
	Name string
	Rows [][]any
}

// WriteWorkbook writes sheets as an XLSX workbook (ISO/IEC 29500). Texts stay texts: none is treated as a formula.
func WriteWorkbook(out io.Writer, tabs []Tab) error {
	book := excelize.NewFile()
	defer func() { _ = book.Close() }() // it stands in memory
	bold, err := book.NewStyle(&excelize.Style{Font: &excelize.Font{Bold: true}})
	if err != nil {
		return err
	}
	for i, tab := range tabs {
		if i == 0 {
			err = book.SetSheetName("Sheet1", tab.Name)
		} else {
			_, err = book.NewSheet(tab.Name)
		}
		if err != nil {
			return err
		}
		if err := writeTab(book, tab, bold); err != nil {
			return err
		}
	}
	return book.Write(out)
}

// widest is how wide a column is at most, in characters.
const widest = 60

func writeTab(book *excelize.File, tab Tab, bold int) error {
	widths := map[int]int{}
	for k, row := range tab.Rows {
		cell, err := excelize.CoordinatesToCellName(1, k+1)
		if err != nil {
			return err
		}
		if err := book.SetSheetRow(tab.Name, cell, &row); err != nil {
			return err
		}
		for i, value := range row {
			if text, ok := value.(string); ok {
				widths[i] = max(widths[i], min(widest, len([]rune(text))+2))
			}
		}
	}
	for i, width := range widths {
		column, err := excelize.ColumnNumberToName(i + 1)
		if err != nil {
			return err
		}
		if err := book.SetColWidth(tab.Name, column, column, float64(max(9, width))); err != nil {
			return err
		}
	}
	return book.SetRowStyle(tab.Name, 1, 1, bold)
}
