package spreadsheet_test

import (
	"bytes"
	"encoding/csv"
	"strings"
	"testing"

	"vialbench/internal/spreadsheet"
)

// What would be a formula is a text, and comes back as it was; everything else stays as it
// is. The list of first characters is that of the OWASP page on CSV injection (from
// memory), with line breaks and full-width signs.
func TestNoCellIsAFormula(t *testing.T) {
	var out bytes.Buffer
	cells := []string{
		"=cmd|' /C calc'!A0", "+1", "-2", "@SUM(A1)", "\tx", "\rx", " =1+1", "\u00a0=1", "＝1", "'=1", "|x", "%x",
		"plain", "5.1 g", "", "a=b", "−5", "it's", "0.1 mol/L", "'quoted'", "x\n=1", "\"=1\"",
	}
	w, err := spreadsheet.NewWriter(&out, "one")
	if err != nil {
		t.Fatal(err)
	}
	for _, cell := range cells {
		if err := w.Row(cell, "beside"); err != nil {
			t.Fatal(err)
		}
	}
	if err := w.Flush(); err != nil {
		t.Fatal(err)
	}
	text := out.String()
	if !strings.HasPrefix(text, "\ufeffone\r\n") {
		t.Errorf("%q", text[:20])
	}
	r := csv.NewReader(strings.NewReader(strings.TrimPrefix(text, "\ufeff")))
	r.FieldsPerRecord = -1
	rows, err := r.ReadAll()
	if err != nil {
		t.Fatal(err)
	}
	for i, cell := range cells {
		written := rows[i+1][0]
		if strings.ContainsAny(strings.TrimLeft(written, " \u00a0")+" ", "\x00") ||
			len(written) > 0 && strings.ContainsRune("=+-@\t\r", rune(written[0])) {
			t.Errorf("%q was written as %q", cell, written)
		}
		if i >= 12 && written != cell {
			t.Errorf("%q needs nothing, and was written as %q", cell, written)
		}
		if i < 12 && written != "'"+cell && cell != "\rx" {
			t.Errorf("%q was written as %q", cell, written)
		}
		if back := spreadsheet.Undefuse(written); back != cell && cell != "\rx" { // a reader of CSV drops a return
			t.Errorf("%q came back as %q", cell, back)
		}
	}
}
