// Package spreadsheet writes tables as CSV by RFC 4180 for spreadsheets, and takes back
// what it wrote.
package spreadsheet

import (
	"encoding/csv"
	"io"
	"strings"
)

// Writer writes a table, in UTF-8 with a byte order mark, since spreadsheets ask for one.
// No cell is treated as a formula.
type Writer struct {
	table *csv.Writer
	cells []string
}

// NewWriter begins a table with the names of its columns.
func NewWriter(out io.Writer, columns ...string) (*Writer, error) {
	if _, err := io.WriteString(out, "\ufeff"); err != nil {
		return nil, err
	}
	w := &Writer{table: csv.NewWriter(out)}
	w.table.UseCRLF = true
	return w, w.Row(columns...)
}

// Write writes a table whose first row names its columns.
func Write(out io.Writer, rows [][]string) error {
	w, err := NewWriter(out, rows[0]...)
	if err != nil {
		return err
	}
	for _, row := range rows[1:] {
		if err := w.Row(row...); err != nil {
			return err
		}
	}
	return w.Flush()
}

// Row writes a row.
func (w *Writer) Row(cells ...string) error {
	w.cells = w.cells[:0]
	for _, cell := range cells {
		w.cells = append(w.cells, defuse(cell))
	}
	return w.table.Write(w.cells)
}

// Flush writes what is left, and tells what went wrong.
func (w *Writer) Flush() error {
	w.table.Flush()
	return w.table.Error()
}

// fuses begin a cell that a spreadsheet takes for a formula.
const fuses = "=+-@\t\r\n|%"

// defuse keeps a spreadsheet from taking what a person wrote for a formula: also behind
// spaces, and as full-width signs.
func defuse(cell string) string {
	bare := strings.TrimLeft(cell, " \u00a0\u3000'")
	if cell == "" || !strings.ContainsAny(firstRune(bare), fuses+"＝＋－＠") && !strings.ContainsAny(cell[:1], "\t\r\n") {
		return cell
	}
	return "'" + cell
}

// Undefuse gives back a cell as it was before it was written.
func Undefuse(cell string) string {
	if rest, ok := strings.CutPrefix(cell, "'"); ok && defuse(rest) == cell {
		return rest
	}
	return cell
}

func firstRune(s string) string {
	for _, r := range s {
		return string(r)
	}
	return ""
}
