package httpapi

import (
	"bytes"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"vialbench/core/session"
	"vialbench/core/stock"
	"vialbench/internal/lab"
	"vialbench/internal/report"
	"vialbench/internal/spreadsheet"
	"vialbench/internal/store"
)

// PrintGroupCards implements StrictServerInterface.
func (s *Server) PrintGroupCards(ctx context.Context, r PrintGroupCardsRequestObject) (PrintGroupCardsResponseObject, error) {
	v, settings, given, err := s.paper(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	blanks := v.Plan.Blanks(settings.Thresholds)
	var cards []report.Sheet
	class, err := s.lab.Class(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	for group := 1; group <= v.Plan.Groups; group++ {
		card := cardOf(v, group, blanks, given)
		if i := slices.IndexFunc(class.Groups, func(g store.ClassGroup) bool { return g.Number == group }); i >= 0 && !class.Ended {
			address, code := s.address(ctx)+"/class", class.Groups[i].Code
			card.URL = address + "?code=" + code
			card.Subtitle += "\nYour sheet: " + address + ", code " + code[:3] + " " + code[3:]
		}
		cards = append(cards, card)
	}
	var out bytes.Buffer
	if err := report.WriteSheets(&out, v.Title, s.lab.Now(), cards); err != nil {
		return nil, err
	}
	return PrintGroupCards200ApplicationpdfResponse{Body: &out, ContentLength: int64(out.Len())}, nil
}

// ExportSessionWorkbook implements StrictServerInterface.
func (s *Server) ExportSessionWorkbook(
	ctx context.Context, r ExportSessionWorkbookRequestObject,
) (ExportSessionWorkbookResponseObject, error) {
	v, settings, given, err := s.paper(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	kept, err := s.lab.Stockroom(ctx)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	if err := spreadsheet.WriteWorkbook(&out, workbookOf(v, kept, v.Plan.Blanks(settings.Thresholds), given)); err != nil {
		return nil, err
	}
	download(ctx, "vialbench-session.xlsx")
	return ExportSessionWorkbook200ApplicationvndOpenxmlformatsOfficedocumentSpreadsheetmlSheetResponse{
		Body: &out, ContentLength: int64(out.Len()),
	}, nil
}

// paper is what goes onto paper of a session.
func (s *Server) paper(
	ctx context.Context, id string,
) (v lab.PlannedSession, settings store.Settings, given []lab.UnknownsView, err error) {
	if v, err = s.lab.LabSession(ctx, id); err != nil {
		return v, settings, nil, err
	}
	if settings, err = s.lab.Settings(ctx); err != nil {
		return v, settings, nil, err
	}
	given, err = s.lab.Unknowns(ctx, id)
	return v, settings, given, err
}

// cardOf is the card of one group: what it gets, its unknowns by their numbers, and the tables that it fills in.
func cardOf(v lab.PlannedSession, group int, blanks []session.Blank, given []lab.UnknownsView) report.Sheet {
	card := report.Sheet{Title: fmt.Sprintf("%s: group %d", v.Title, group), Subtitle: whenAndWhere(v)}
	gets := report.Section{Heading: "What you get", Widths: []float64{0.4, 0.25, 0.35}}
	for i, need := range v.Design.Needs {
		gets.Rows = append(gets.Rows, []string{need.Title, session.Volume(need.ML), v.Plan.Items[i].Uses()})
	}
	for _, set := range given {
		for _, b := range set.Set.Bottles {
			if b.Group == group {
				gets.Rows = append(gets.Rows, []string{"Unknown: " + set.Name, fmt.Sprintf("bottle %d", b.Code), ""})
			}
		}
	}
	card.Sections = append(card.Sections, gets)
	for _, b := range blanks {
		section := report.Section{Heading: b.Title, Grid: true, Rows: [][]string{b.Columns}}
		for n := range b.Rows {
			section.Rows = append(section.Rows, append([]string{fmt.Sprint(n + 1)}, make([]string, len(b.Columns)-1)...))
		}
		card.Sections = append(card.Sections, section)
	}
	card.Sections = append(card.Sections, cautionsOf(v))
	return card
}

// workbookOf are the lists of a session as sheets, and one in which the readings of all groups are entered.
func workbookOf(v lab.PlannedSession, kept []lab.ArticleView, blanks []session.Blank, given []lab.UnknownsView) []spreadsheet.Tab {
	liquids := [][]any{{"liquid", "for a group, mL", "places", "in all, mL", "from"}}
	for i, need := range v.Design.Needs {
		from := v.Design.Supplies[i].Short
		if supply := v.Design.Supplies[i]; supply.Chosen >= 0 {
			from = supply.Options[supply.Chosen].Sentence
		}
		liquids = append(liquids, []any{need.Title, need.ML, need.Places, need.Total, from})
	}
	store := [][]any{{"from the store", "how much", "place"}}
	for _, row := range fromStore(v, kept) {
		store = append(store, []any{row[0], row[1], row[2]})
	}
	tasks := [][]any{{"begins (UTC)", "ends (UTC)", "task", "person", "at the bench, min", "waiting, min"}}
	for _, bar := range v.Design.Bars {
		tasks = append(tasks, []any{
			bar.Starts.UTC().Format(time.RFC3339), bar.Ends.UTC().Format(time.RFC3339), bar.Title, bar.Person, bar.Hands, bar.Wait,
		})
	}
	readings := [][]any{{"group", "table"}}
	for _, b := range blanks {
		for _, column := range b.Columns {
			if !slices.Contains(readings[0], any(column)) {
				readings[0] = append(readings[0], column)
			}
		}
	}
	for group := 1; group <= v.Plan.Groups; group++ {
		for _, b := range blanks {
			for n := range b.Rows {
				row := make([]any, len(readings[0]))
				row[0], row[1], row[slices.Index(readings[0], any(b.Columns[0]))] = group, b.Title, n+1
				readings = append(readings, row)
			}
		}
	}
	tabs := []spreadsheet.Tab{{Name: "Liquids", Rows: liquids}, {Name: "Store", Rows: store}, {Name: "Tasks", Rows: tasks}}
	if len(given) > 0 {
		unknown := [][]any{{"unknown", "group", "bottle"}}
		for _, set := range given {
			for _, b := range set.Set.Bottles {
				unknown = append(unknown, []any{set.Name, b.Group, b.Code})
			}
		}
		tabs = append(tabs, spreadsheet.Tab{Name: "Unknowns", Rows: unknown})
	}
	return append(tabs, spreadsheet.Tab{Name: "Readings", Rows: readings})
}

// fromStore is what is brought out of the store, with where it stands.
func fromStore(v lab.PlannedSession, kept []lab.ArticleView) [][]string {
	var rows [][]string
	for _, d := range v.Design.Draws {
		place := "not kept in the store"
		for _, a := range kept {
			if a.Key != d.Key {
				continue
			}
			place = "no container holds it"
			if i := stock.From(a.Held(), d.Amount, v.StartsAt.Format(time.DateOnly)); i >= 0 {
				c := a.Containers[i]
				place = fmt.Sprintf("container %d", c.Number)
				if c.Place != "" {
					place += ", " + c.Place
				}
			}
		}
		rows = append(rows, []string{d.Name, stock.Unit(d.Unit).Say(d.Amount), place})
	}
	return rows
}

// sheetOf lays a session out for paper; hours are those of its place.
func sheetOf(v lab.PlannedSession, kept []lab.ArticleView, now time.Time) report.Sheet {
	zone := zoneOf(v)
	at := func(t time.Time) string { return t.In(zone).Format("Mon 2 Jan 15:04") }
	sheet := report.Sheet{Title: v.Title, Made: now, Subtitle: fmt.Sprintf("%s, %d groups", whenAndWhere(v), v.Plan.Groups)}
	short := report.Section{Heading: "Short", Warns: true}
	out := report.Section{Heading: "Bring out or make", Tick: true, Widths: []float64{0.32, 0.14, 0.54}}
	groups := report.Section{Heading: "For each group", Widths: []float64{0.4, 0.6}}
	for i, need := range v.Design.Needs {
		supply := v.Design.Supplies[i]
		from := supply.Short
		if supply.Chosen >= 0 {
			from = supply.Options[supply.Chosen].Sentence
		} else {
			short.Rows = append(short.Rows, []string{supply.Short})
		}
		out.Rows = append(out.Rows, []string{need.Title, session.Volume(need.Total), from})
		groups.Rows = append(groups.Rows, []string{need.Title, need.Portions()})
	}
	store := report.Section{Heading: "From the store", Tick: true, Widths: []float64{0.4, 0.2, 0.4}, Rows: fromStore(v, kept)}
	tasks := report.Section{Heading: "To do", Tick: true, Widths: []float64{0.2, 0.48, 0.2, 0.12}}
	for _, bar := range v.Design.Bars {
		tasks.Rows = append(tasks.Rows, []string{at(bar.Starts), bar.Title, bar.Person, fmt.Sprintf("%d min", bar.Hands+bar.Wait)})
	}
	sheet.Sections = []report.Section{short, out, store, tasks, groups, cautionsOf(v)}
	return sheet
}

// cautionsOf are the hazards of the liquids of a session, with what comes first.
func cautionsOf(v lab.PlannedSession) report.Section {
	cautions := report.Section{Heading: "Cautions", Warns: true, Rows: [][]string{{session.AlwaysSaid}}}
	for _, c := range v.Cautions {
		cautions.Rows = append(cautions.Rows, []string{fmt.Sprintf("%s (%s): %s", c.Title, c.Signal, strings.Join(c.Statements, " "))})
	}
	return cautions
}

func zoneOf(v lab.PlannedSession) *time.Location {
	zone, err := time.LoadLocation(v.Plan.Zone)
	if err != nil {
		return time.UTC
	}
	return zone
}

// whenAndWhere is when a session is, by the clocks of its place.
func whenAndWhere(v lab.PlannedSession) string {
	zone := zoneOf(v)
	from, to := v.StartsAt.In(zone).Format("Monday 2 January 2006, 15:04"), v.EndsAt.In(zone).Format("15:04")
	return fmt.Sprintf("%s to %s, %s", from, to, orNowhere(v.Plan.Place))
}

func orNowhere(place string) string {
	if place == "" {
		return "place not named"
	}
	return place
}
