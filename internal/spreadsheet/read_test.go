package spreadsheet_test

import (
	"bytes"
	"reflect"
	"strings"
	"testing"

	"vialbench/internal/spreadsheet"
)

func TestReadsWhatSpreadsheetsSave(t *testing.T) {
	var book bytes.Buffer
	rows := [][]any{{"Group", "Result (mol/L)"}, {1, 0.10234567}, {"Group 2", "=0,0998"}, {}, {4, nil, "late"}}
	if err := spreadsheet.WriteWorkbook(&book, []spreadsheet.Tab{{Name: "Class", Rows: rows}, {Name: "Other", Rows: [][]any{{"x"}}}}); err != nil {
		t.Fatal(err)
	}
	for name, file := range map[string]string{
		"workbook":   book.String(),
		"semicolons": "\ufeffGroup;Result (mol/L)\r\n1;0.10234567\r\n\"Group 2\";\"=0,0998\"\r\n4;;late\r\n",
		"tabs":       "Group\tResult (mol/L)\n1\t0.10234567\nGroup 2\t=0,0998\n4\t\tlate",
		"commas":     "Group,Result (mol/L)\n1, 0.10234567\nGroup 2,\"'=0,0998\"\n4,,late\n",
	} {
		got, err := spreadsheet.Read([]byte(file))
		if err != nil {
			t.Errorf("%s: %v", name, err)
		}
		want := [][]string{{"Group", "Result (mol/L)"}, {"1", "0.10234567"}, {"Group 2", "=0,0998"}, {"4", "", "late"}}
		if name == "workbook" {
			want = [][]string{want[0], want[1], want[2], {}, want[3]}
		}
		if !reflect.DeepEqual(got, want) {
			t.Errorf("%s: %q", name, got)
		}
	}
}

func TestWhatIsNoTable(t *testing.T) {
	for want, file := range map[string]string{
		"neither an XLSX":       "\xff\xfe\x00\x01",
		"cannot be read":        "PK\x03\x04 and no more",
		"at most 500 rows":      strings.Repeat("1;2\n", 501),
		"and 60 columns":        strings.Repeat("1;", 61) + "\n",
		"at most 200 character": strings.Repeat("x", 201),
	} {
		if rows, err := spreadsheet.Read([]byte(file)); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %d rows, %v", want, len(rows), err)
		}
	}
	if rows, err := spreadsheet.Read(nil); err != nil || len(rows) != 0 {
		t.Errorf("%v %v", rows, err)
	}
}
