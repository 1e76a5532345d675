package spreadsheet

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
	"unicode/utf8"

	"github.com/xuri/excelize/v2"
)

// The bounds of a table that is read.
const (
	MostRows    = 500
	MostColumns = 60
	longestCell = 200
	// unpacked is how large a workbook may be once it is unpacked.
	unpacked = 32 << 20
)

// Read reads the first sheet of an XLSX workbook, or a table in CSV parted by semicolons, tabs or commas: what stands in each cell, of a
// number all its digits. Rows may differ in length.
func Read(file []byte) ([][]string, error) {
	if bytes.HasPrefix(file, []byte("PK\x03\x04")) {
		return readWorkbook(file)
	}
	text := bytes.TrimPrefix(file, []byte("\ufeff"))
	if !utf8.Valid(text) || bytes.ContainsRune(text, 0) {
		return nil, errors.New("this is neither an XLSX workbook nor a table in UTF-8: save it as XLSX, or as “CSV UTF-8”")
	}
	r := csv.NewReader(bytes.NewReader(text))
	r.FieldsPerRecord, r.LazyQuotes = -1, true
	head, _, _ := bytes.Cut(text, []byte("\n"))
	for _, separator := range []rune{'\t', ';'} {
		if bytes.ContainsRune(head, separator) {
			r.Comma = separator
		}
	}
	var list [][]string
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			return list, nil
		}
		if err == nil {
			list, err = added(list, row)
		}
		if err != nil {
			return nil, err
		}
	}
}

func readWorkbook(file []byte) ([][]string, error) {
	no := errors.New("this workbook cannot be read: save it as XLSX, without a password")
	options := excelize.Options{RawCellValue: true, UnzipSizeLimit: unpacked, UnzipXMLSizeLimit: unpacked}
	book, err := excelize.OpenReader(bytes.NewReader(file), options)
	if err != nil {
		return nil, no
	}
	defer func() { _ = book.Close() }() // it stands in memory
	rows, err := book.Rows(book.GetSheetName(0))
	if err != nil {
		return nil, no
	}
	var list [][]string
	for rows.Next() {
		row, err := rows.Columns()
		if err != nil {
			return nil, no
		}
		if list, err = added(list, row); err != nil {
			return nil, err
		}
	}
	return list, rows.Close()
}

// added is a table with one row more, within its bounds.
func added(list [][]string, row []string) ([][]string, error) {
	if len(list) == MostRows || len(row) > MostColumns {
		return nil, fmt.Errorf("a table has at most %d rows and %d columns here", MostRows, MostColumns)
	}
	cells := make([]string, len(row))
	for i, cell := range row {
		if cells[i] = strings.TrimSpace(Undefuse(cell)); len([]rune(cell)) > longestCell {
			return nil, fmt.Errorf("row %d: a cell has at most %d characters", len(list)+1, longestCell)
		}
	}
	return append(list, cells), nil
}
