package lab

import (
	"bytes"
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"vialbench/core/glassware"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
	"vialbench/internal/spreadsheet"
	"vialbench/internal/store"
)

// Table is a kind of table that is taken in and given out as CSV.
type Table string

// The tables.
const (
	SubstanceTable Table = "substances"
	EquipmentTable Table = "equipment"
	PlanTable      Table = "plans"
)

// columns of each table, in the order in which they are given out; those before
// required must be there.
var columns = map[Table][]string{
	SubstanceTable: {
		"name",
		"formula",
		"class",
		"key",
		"density g/mL",
		"solubility g/100 mL",
		"hygroscopic",
		"drying",
		"liquid",
		"mass fraction",
		"keep",
		"mixture",
		"signal",
		"hazards",
		"precautions",
		"note",
		"source",
	},
	EquipmentTable: {
		"kind",
		"volume mL",
		"class",
		"count",
		"mark",
		"certified mL",
		"certified limits mL",
		"name",
		"capacity g",
		"resolution g",
		"repeatability g",
		"linearity g",
	},
	PlanTable: {"substance", "concentration", "volume", "id", "of", "assay %", "assay limits %", "flask class", "band %"},
}

var required = map[Table]int{SubstanceTable: 3, EquipmentTable: 1, PlanTable: 3}

// maxRows bounds a table.
const maxRows = 100_000

// ImportTable takes in a CSV table with a header line, all of it or nothing.
// Commas, semicolons and tabs separate; with semicolons or tabs a decimal comma is
// read too. Problems name line and column: "/12/density g/mL".
func (l *Lab) ImportTable(ctx context.Context, by Actor, table Table, in io.Reader, dryRun bool) (ImportReport, error) {
	if err := by.mayRule("taking in tables"); err != nil {
		return ImportReport{}, err
	}
	known, ok := columns[table]
	if !ok {
		return ImportReport{}, NotFound{"a table of " + string(table)}
	}
	rows, err := readTable(known, required[table], in)
	if err != nil {
		return ImportReport{}, err
	}
	return l.importWith(ctx, by, dryRun, func(in *importer) error {
		for _, r := range rows {
			switch table {
			case SubstanceTable:
				in.substanceRow(r)
			case EquipmentTable:
				in.equipmentRow(r)
			case PlanTable:
				in.planRow(r)
			}
		}
		if err := in.carryOut(); err != nil {
			return err
		}
		return in.problems.OrNil()
	})
}

// row is one line of a table, by column.
type row struct {
	line  int
	cells map[string]string
}

func (r row) place() string { return "/" + strconv.Itoa(r.line) }

// number reads a cell; an empty one is 0.
func (r row) number(column string, p *verdict.Problems) float64 {
	cell := r.cells[column]
	if cell == "" {
		return 0
	}
	x, err := strconv.ParseFloat(strings.Replace(cell, ",", ".", 1), 64)
	if err != nil {
		p.Add(r.place()+"/"+column, "“%s” is no number", cell)
	}
	return x
}

func (r row) yes(column string, p *verdict.Problems) bool {
	switch cell := strings.ToLower(r.cells[column]); cell {
	case "", "no", "0", "false":
		return false
	case "yes", "1", "true":
		return true
	default:
		p.Add(r.place()+"/"+column, "yes or no, not “%s”", cell)
		return false
	}
}

// mostColumns is how many separators a line has at most, those within quoted notes included.
const mostColumns = 1000

// tooWide is the first line with more separators than that, from 1; 0 when there is none. It is
// looked for before anything is cut into cells.
func tooWide(text []byte, separator byte) int {
	line, found := 1, 0
	for _, b := range text {
		switch b {
		case '\n':
			line, found = line+1, 0
		case separator:
			if found++; found > mostColumns {
				return line
			}
		}
	}
	return 0
}

// readTable reads the lines of a table with some of the known columns; those before need
// must be there.
func readTable(known []string, need int, in io.Reader) ([]row, error) {
	text, err := io.ReadAll(in)
	if err != nil {
		return nil, err
	}
	text = bytes.TrimPrefix(text, []byte("\ufeff"))
	if i := bytes.IndexByte(text, 0); i >= 0 || !utf8.Valid(text) {
		return nil, verdict.Problems{{Field: "/1", Reason: "this is not a table in UTF-8: save it as “CSV UTF-8”"}}
	}
	head, _, _ := bytes.Cut(text, []byte("\n"))
	reader := csv.NewReader(bytes.NewReader(text))
	reader.FieldsPerRecord, reader.TrimLeadingSpace = -1, true
	for _, separator := range []rune{';', '\t'} {
		if bytes.ContainsRune(head, separator) {
			reader.Comma = separator
		}
	}
	if line := tooWide(text, byte(reader.Comma)); line > 0 {
		return nil, verdict.Problems{
			{Field: "/" + strconv.Itoa(line), Reason: fmt.Sprintf("this line has more than %d separators: no table here is as wide", mostColumns)},
		}
	}
	var p verdict.Problems
	header, err := reader.Read()
	if err != nil {
		p.Add("/1", "the first line names the columns: %s", strings.Join(known, ", "))
		return nil, p
	}
	for i, name := range header {
		name = strings.TrimSpace(name)
		k := slices.IndexFunc(known, func(column string) bool { return strings.EqualFold(column, name) })
		if k >= 0 {
			header[i] = known[k]
		} else {
			p.Add("/1/"+name, "no column of this name is known; there are: %s", strings.Join(known, ", "))
		}
	}
	for _, name := range known[:need] {
		if !slices.Contains(header, name) {
			p.Add("/1", "the column “%s” is missing", name)
		}
	}
	if len(p) > 0 {
		return nil, p
	}
	var rows []row
	for {
		cells, err := reader.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		var wrong *csv.ParseError
		if errors.As(err, &wrong) {
			p.Add("/"+strconv.Itoa(wrong.Line), "the line cannot be read: %s", wrong.Err)
			break
		}
		line, _ := reader.FieldPos(0)
		r := row{line, make(map[string]string, len(header))}
		if len(cells) > len(header) {
			p.Add(r.place(), "%d cells, and the header names %d: a text with the separator in it stands in quotes", len(cells), len(header))
			continue
		}
		for i, cell := range cells {
			r.cells[header[i]] = spreadsheet.Undefuse(strings.TrimSpace(cell))
		}
		if rows = append(rows, r); len(rows) > maxRows {
			p.Add(r.place(), "at most %d lines are taken in at once", maxRows)
			break
		}
	}
	return rows, p.OrNil()
}

// underRow files the problems of a row under its columns, which are named other
// than the fields of what is made of it.
func (in *importer) underRow(r row, names map[string]string, take func()) {
	first := len(in.problems)
	take()
	for i := first; i < len(in.problems); i++ {
		field := strings.TrimPrefix(in.problems[i].Field, r.place())
		base, _, _ := strings.Cut(strings.TrimPrefix(field, "/"), "/")
		if name, ok := names[base]; ok {
			in.problems[i].Field = r.place() + "/" + name
		}
	}
}

func (in *importer) substanceRow(r row) {
	s := substance.Substance{
		Key:         r.cells["key"],
		Name:        r.cells["name"],
		Formula:     r.cells["formula"],
		Class:       substance.Class(strings.ToLower(r.cells["class"])),
		Drying:      r.cells["drying"],
		Keep:        substance.Keeping(r.cells["keep"]),
		Mixture:     r.cells["mixture"],
		Note:        r.cells["note"],
		Signal:      r.cells["signal"],
		Hazards:     codes(r.cells["hazards"]),
		Precautions: codes(r.cells["precautions"]),
	}
	first := len(in.problems)
	s.Density, s.Solubility = r.number("density g/mL", &in.problems), r.number("solubility g/100 mL", &in.problems)
	s.MassFraction = r.number("mass fraction", &in.problems)
	s.Hygroscopic, s.Liquid = r.yes("hygroscopic", &in.problems), r.yes("liquid", &in.problems)
	source := r.cells["source"]
	if source == "" {
		source = "taken in from a table"
	}
	s.Sources = map[string]string{"all": source}
	if len(in.problems) > first {
		return
	}
	names := map[string]string{"density": "density g/mL", "solubility": "solubility g/100 mL"}
	in.underRow(r, names, func() { in.takeSubstance(r.place(), SubstanceRecord{Substance: s}) })
}

func codes(cell string) []string {
	list := strings.FieldsFunc(cell, func(c rune) bool { return c == ' ' || c == ',' || c == ';' })
	return append([]string{}, list...)
}

// balanceKind is the kind of a balance in the table of equipment.
const balanceKind = "balance"

func (in *importer) equipmentRow(r row) {
	first := len(in.problems)
	number := func(column string) float64 { return r.number(column, &in.problems) }
	if strings.EqualFold(r.cells["kind"], balanceKind) {
		b := weighing.Balance{
			Name:          r.cells["name"],
			Capacity:      number("capacity g"),
			Resolution:    number("resolution g"),
			Repeatability: number("repeatability g"),
			Linearity:     number("linearity g"),
		}
		if len(in.problems) == first {
			in.takeBalance(r.place(), BalanceRecord{Balance: b})
		}
		return
	}
	item := glassware.Item{
		Kind:   glassware.Kind(strings.ToLower(r.cells["kind"])),
		Volume: number("volume mL"),
		Class:  glassware.Class(strings.ToUpper(r.cells["class"])),
		Count:  1,
		Certificate: glassware.Certificate{
			Mark:            r.cells["mark"],
			Certified:       number("certified mL"),
			CertifiedLimits: number("certified limits mL"),
		},
	}
	if r.cells["count"] != "" {
		item.Count = int(number("count"))
	}
	if len(in.problems) > first {
		return
	}
	names := map[string]string{"volume": "volume mL", "certified": "certified mL", "certifiedLimits": "certified limits mL"}
	in.underRow(r, names, func() { in.takeGlass(r.place(), GlassRecord{Item: item}) })
}

func (in *importer) planRow(r row) {
	first := len(in.problems)
	k := tabled()
	plan, names := k.fromRow(in, r)
	id := r.cells["id"]
	if id == "" {
		id = newID()
	}
	if len(in.problems) > first {
		return
	}
	in.underRow(r, names, func() { in.takePlan(r.place(), in.by, PlanRecord{ID: id, At: in.now()}, k, plan) })
}

// tabled is the kind of work whose plans are lines of a table. Others go out with the
// records.
func tabled() kind {
	return kinds[slices.IndexFunc(kinds, func(k kind) bool { return k.fromRow != nil })]
}

// ExportTable writes a table as CSV, which ImportTable takes in again.
func (l *Lab) ExportTable(ctx context.Context, table Table, out io.Writer) error {
	header, ok := columns[table]
	if !ok {
		return NotFound{"a table of " + string(table)}
	}
	w, err := spreadsheet.NewWriter(out, header...)
	if err != nil {
		return err
	}
	if err := tableRows(l.store.With(ctx), table, w.Row); err != nil {
		return err
	}
	return w.Flush()
}

// plain writes a number; 0 is empty.
func plain(x float64) string {
	if x == 0 {
		return ""
	}
	return strconv.FormatFloat(x, 'g', 12, 64)
}

func yes(b bool) string {
	if b {
		return "yes"
	}
	return ""
}

// tableRows writes the rows of a table, some read at a time.
func tableRows(db *store.Store, table Table, write func(cells ...string) error) error {
	switch table {
	case SubstanceTable:
		return substanceRows(db, write)
	case EquipmentTable:
		return equipmentRows(db, write)
	}
	k := tabled()
	for before := fromStart; ; {
		plans, err := db.Plans(before, atATime)
		if err != nil {
			return err
		}
		for _, p := range plans {
			if before = p.Number; p.Kind != k.name {
				continue
			}
			plan, err := planOf(p, 0)
			if err != nil {
				return err
			}
			if err := write(k.toRow(p.ID, plan)...); err != nil {
				return err
			}
		}
		if len(plans) < atATime {
			return nil
		}
	}
}

func substanceRows(db *store.Store, write func(cells ...string) error) error {
	list, err := db.Substances()
	if err != nil {
		return err
	}
	for _, row := range list {
		s := row.Substance
		if err := write(s.Name, s.Formula, string(s.Class), s.Key, plain(s.Density), plain(s.Solubility), yes(s.Hygroscopic), s.Drying,
			yes(s.Liquid), plain(s.MassFraction), string(s.Keep), s.Mixture, s.Signal, strings.Join(s.Hazards, " "),
			strings.Join(s.Precautions, " "), s.Note, s.Sources["all"]); err != nil {
			return err
		}
	}
	return nil
}

func equipmentRows(db *store.Store, write func(cells ...string) error) error {
	balances, err := db.Balances()
	if err != nil {
		return err
	}
	for _, b := range balances {
		if err := write(balanceKind, "", "", "", "", "", "", b.Name, plain(b.Capacity), plain(b.Resolution), plain(b.Repeatability),
			plain(b.Linearity)); err != nil {
			return err
		}
	}
	glass, err := db.Glass()
	if err != nil {
		return err
	}
	for _, g := range glass {
		if err := write(string(g.Kind), plain(g.Volume), string(g.Class), fmt.Sprint(g.Count), g.Mark, plain(g.Certified),
			plain(g.CertifiedLimits), "", "", "", "", ""); err != nil {
			return err
		}
	}
	return nil
}
