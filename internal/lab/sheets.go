package lab

import (
	"encoding/base64"

	"vialbench/core/verdict"
	"vialbench/internal/spreadsheet"
)

// TableQuestion is a spreadsheet in base64.
type TableQuestion struct {
	File string `json:"file"`
}

// TableAnswer is what stands in its cells.
type TableAnswer struct {
	Rows [][]string `json:"rows"`
}

func readSheet(q TableQuestion) (TableAnswer, error) {
	file, err := base64.StdEncoding.DecodeString(q.File)
	if err != nil {
		return TableAnswer{}, verdict.Problems{{Field: "/file", Reason: "the file comes in base64"}}
	}
	rows, err := spreadsheet.Read(file)
	if err != nil {
		return TableAnswer{}, verdict.Problems{{Field: "/file", Reason: err.Error()}}
	}
	return TableAnswer{append([][]string{}, rows...)}, nil
}
