package store

import (
	"fmt"
	"slices"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"vialbench/core/equilibrium"
	"vialbench/core/run"
	"vialbench/core/substance"
)

// Create stores a new row.
func (s *Store) Create(row any) error { return s.db.Omit(clause.Associations).Create(row).Error }

// Save writes all columns of a row.
func (s *Store) Save(row any) error { return s.db.Omit(clause.Associations).Save(row).Error }

// one returns the first row of a query.
func one[T any](q *gorm.DB) (T, error) {
	var row T
	err := q.Take(&row).Error
	return row, err
}

func many[T any](q *gorm.DB) ([]T, error) {
	rows := []T{}
	err := q.Find(&rows).Error
	return rows, err
}

// Bench returns the bench with its balance and its meter.
func (s *Store) Bench() (Bench, error) {
	return one[Bench](s.db.Joins("Balance").Joins("Meter").Where("benches.id = 1"))
}

// Settings returns the rules of the lab.
func (s *Store) Settings() (Settings, error) { return one[Settings](s.db.Where("id = 1")) }

// Advance writes the named columns of a row that carries a version, if the stored
// row is still at the version before the one that row names; false when somebody
// was faster.
func (s *Store) Advance(row any, from int, columns ...string) (bool, error) {
	result := s.db.Model(row).Where("version = ?", from).Select(append(columns, "version")).Updates(row)
	return result.RowsAffected == 1, result.Error
}

// CareOf lists what was done to the probes of a meter, or of all with an empty ID, oldest
// first.
func (s *Store) CareOf(meterID string) ([]ProbeCare, error) {
	q := s.db.Joins("Maker")
	if meterID != "" {
		q = q.Where("meter_id = ?", meterID)
	}
	return many[ProbeCare](q.Order("made_at, probe_care.id"))
}

// CareByID finds something that was done to a probe.
func (s *Store) CareByID(id string) (ProbeCare, error) {
	return one[ProbeCare](s.db.Where("id = ?", id))
}

const lastStated = "(SELECT max(made_at) FROM facts WHERE facts.run_id = runs.id AND facts.replaces IS NULL AND facts.kind <> 'note')"

// RunsWith lists the runs of a kind and a status whose plan depends on an instrument. Those in
// which something was stated last come first, corrections and notes aside: they are about
// what was done before.
func (s *Store) RunsWith(instrument, kind, status string, most int) ([]Run, error) {
	q := s.db.Joins("Plan").Joins("Beginner").
		Where(`"Plan".kind = ? AND runs.status = ?`, kind, status).Where(byPeople).
		Where("EXISTS (SELECT FROM sources WHERE sources.plan_id = runs.plan_id AND sources.instrument = ?)", instrument)
	return many[Run](q.Order(lastStated + " DESC NULLS LAST, runs.number DESC").Limit(most))
}

// FinishedRuns lists the finished runs of a kind, newest first.
func (s *Store) FinishedRuns(kind string, most int) ([]Run, error) {
	return many[Run](s.db.Joins("Plan").Joins("Beginner").Where(`"Plan".kind = ? AND runs.status = 'finished'`, kind).
		Where(byPeople).
		Order("runs.number DESC").Limit(most))
}

// Equipped says what of a lab is set up already: a balance, glass, and somebody beside the first.
type Equipped struct{ Balance, Glass, People bool }

// SetUp looks what of a lab is set up already.
func (s *Store) SetUp() (e Equipped, err error) {
	err = s.db.Raw(`SELECT EXISTS (SELECT FROM balances) AS balance, EXISTS (SELECT FROM glass) AS glass,
		(SELECT count(*) FROM accounts) > 1 AS people`).Scan(&e).Error
	return e, err
}

// Substances lists the lab's own substances.
func (s *Store) Substances() ([]Substance, error) { return many[Substance](s.db.Order("key")) }

// Systems lists the lab's own acid–base systems.
func (s *Store) Systems() ([]System, error) { return many[System](s.db.Order("created_at, id")) }

// ChangeSystem replaces one of the lab's own acid–base systems, by its key.
func (s *Store) ChangeSystem(to equilibrium.System) error {
	return s.db.Model(&System{ID: to.Key}).Select("system").Updates(&System{System: to}).Error
}

// ChangeSubstance replaces one of the lab's own substances, by its key.
func (s *Store) ChangeSubstance(to substance.Substance) error {
	return s.db.Model(&Substance{Key: to.Key}).Select("substance").Updates(&Substance{Substance: to}).Error
}

// PlanByID finds a plan with who made it.
func (s *Store) PlanByID(id string) (Plan, error) {
	return one[Plan](s.db.Joins("Creator").Where("plans.id = ?", id))
}

// Plans lists plans, newest first, with a number below before.
func (s *Store) Plans(before int64, most int) ([]Plan, error) {
	return many[Plan](s.db.Joins("Creator").Where("plans.number < ?", before).Order("plans.number DESC").Limit(most))
}

// RunByID finds a run with its plan. With forChange, the row is locked until the
// transaction ends.
func (s *Store) RunByID(id string, forChange bool) (Run, error) {
	q := s.db
	if forChange {
		q = q.Clauses(clause.Locking{Strength: "UPDATE", Table: clause.Table{Name: "runs"}})
	}
	return one[Run](q.Joins("Plan").Joins("Plan.Creator").Joins("Beginner").Where("runs.id = ?", id))
}

// RunsByID finds some runs with their plans, by their IDs.
func (s *Store) RunsByID(ids []string) (map[string]Run, error) {
	list, err := many[Run](s.db.Joins("Plan").Joins("Plan.Creator").Joins("Beginner").Where("runs.id IN ?", ids))
	found := make(map[string]Run, len(list))
	for _, r := range list {
		found[r.ID] = r
	}
	return found, err
}

// byPeople leaves out the runs of the groups of a class: they stand in their session, and nothing of the lab depends on them.
const byPeople = "NOT EXISTS (SELECT FROM class_groups WHERE class_groups.account_id = runs.begun_by)"

// Runs lists runs of people, newest first, of one status and one kind, or all, with a number below
// before.
func (s *Store) Runs(status, kind string, before int64, most int) ([]Run, error) {
	q := s.db.Joins("Plan").Joins("Beginner").Where("runs.number < ?", before).Where(byPeople)
	if status != "" {
		q = q.Where("runs.status = ?", status)
	}
	if kind != "" {
		q = q.Where(`"Plan".kind = ?`, kind)
	}
	return many[Run](q.Order("runs.number DESC").Limit(most))
}

// RunsOn lists the runs that were carried out with an instrument, and those that depend on the results
// of these, newest first.
func (s *Store) RunsOn(instrument string, most int) ([]Run, error) {
	return many[Run](s.db.Joins("Plan").Joins("Beginner").Where(`runs.id IN (
		WITH RECURSIVE affected AS (
			SELECT r.id FROM runs r JOIN sources s ON s.run_id = r.id OR s.plan_id = r.plan_id WHERE s.instrument = ?
			UNION SELECT r.id FROM affected a JOIN sources s ON s.earlier_id = a.id JOIN runs r ON s.run_id = r.id OR s.plan_id = r.plan_id)
		SELECT id FROM affected)`, instrument).Order("runs.number DESC").Limit(most))
}

// SourcesOf lists what a run depends on, by itself or by its plan.
func (s *Store) SourcesOf(r Run) ([]Source, error) {
	return many[Source](s.db.Where("run_id = ? OR plan_id = ?", r.ID, r.PlanID).Order("id"))
}

// PlanSource is what a plan depends on. Of a bottle it says which run it came from, if from one.
type PlanSource struct {
	Source
	FromRun *string
	Part    int
}

// SourcesOfPlans lists what some plans depend on, by plan.
func (s *Store) SourcesOfPlans(planIDs []string) (map[string][]PlanSource, error) {
	list, err := many[PlanSource](s.db.Table("sources").Joins("LEFT JOIN bottles ON bottles.id = sources.bottle_id").
		Select("sources.*, bottles.run_id AS from_run, bottles.part").Where("sources.plan_id IN ?", planIDs).Order("sources.id"))
	found := map[string][]PlanSource{}
	for _, x := range list {
		found[*x.PlanID] = append(found[*x.PlanID], x)
	}
	return found, err
}

// Stands records what a plan or a run depends on, once.
func (s *Store) Stands(on Source) error {
	return s.db.Clauses(clause.OnConflict{DoNothing: true}).Create(&on).Error
}

// RunsUsing lists the IDs of the runs that depend on a bottle.
func (s *Store) RunsUsing(bottleID string) ([]string, error) {
	return s.runsThat("sources.role <> '"+run.RoleStandardises+"' AND sources.bottle_id = ?", bottleID)
}

// RunsStandardising lists the finished runs that found the concentration of a bottle.
func (s *Store) RunsStandardising(bottleID string) ([]Run, error) {
	return many[Run](s.db.Joins("Plan").Joins("Beginner").Where("runs.status = 'finished'").Where(byPeople).
		Where("EXISTS (SELECT FROM sources WHERE sources.plan_id = runs.plan_id AND sources.role = ? AND sources.bottle_id = ?)", run.RoleStandardises, bottleID).
		Order("runs.number DESC"))
}

// RunsThatStandardise lists the runs that find the concentration of a bottle, finished or not.
func (s *Store) RunsThatStandardise(bottleID string) ([]string, error) {
	return s.runsThat("sources.role = '"+run.RoleStandardises+"' AND sources.bottle_id = ?", bottleID)
}

// BottlesStandardisedBy lists the bottles whose concentration a run finds.
func (s *Store) BottlesStandardisedBy(runID string) ([]string, error) {
	return ids(s.db.Model(&Source{}).Distinct().Joins("JOIN runs ON runs.plan_id = sources.plan_id").
		Where("runs.id = ? AND sources.role = ?", runID, run.RoleStandardises), "sources.bottle_id")
}

// RunsAfter lists the IDs of the runs that depend on an earlier one.
func (s *Store) RunsAfter(runID string) ([]string, error) {
	return s.runsThat("sources.earlier_id = ?", runID)
}

// RunsOfKindAfter lists those of one kind of work.
func (s *Store) RunsOfKindAfter(runID, kind string) ([]string, error) {
	return s.runsThat("sources.earlier_id = ? AND EXISTS (SELECT FROM plans WHERE plans.id = runs.plan_id AND plans.kind = ?)", runID, kind)
}

func (s *Store) runsThat(condition string, values ...any) ([]string, error) {
	q := s.db.Model(&Run{}).Distinct().Joins("JOIN sources ON sources.run_id = runs.id OR sources.plan_id = runs.plan_id").Where(condition, values...)
	return ids(q.Order("runs.id"), "runs.id")
}

// RunIDs lists all runs, oldest first.
func (s *Store) RunIDs() ([]string, error) { return ids(s.db.Model(&Run{}).Order("number"), "id") }

func ids(q *gorm.DB, column string) ([]string, error) {
	list := []string{}
	err := q.Pluck(column, &list).Error
	return list, err
}

// Changes lists how a bottle moved, or all with an empty ID, oldest first.
func (s *Store) Changes(bottleID string) ([]Change, error) {
	q := s.db.Order("id")
	if bottleID != "" {
		q = q.Where("bottle_id = ?", bottleID)
	}
	return many[Change](q)
}

// PlansNeverRun lists the plans without a run, oldest first.
func (s *Store) PlansNeverRun() ([]Plan, error) {
	return many[Plan](s.db.Joins("Creator").Where("NOT EXISTS (SELECT FROM runs WHERE plan_id = plans.id)").Order("plans.number"))
}

// CountPlans counts the plans.
func (s *Store) CountPlans() (n int64, err error) {
	err = s.db.Model(&Plan{}).Count(&n).Error
	return n, err
}

// CreateMany stores new rows, some hundred at a time.
func (s *Store) CreateMany(rows any) error {
	return s.db.Omit(clause.Associations).CreateInBatches(rows, 500).Error
}

// CountOn makes the numbers of new rows follow the largest that was given.
func (s *Store) CountOn() error {
	for table, column := range map[string]string{
		"plans": "number", "runs": "number", "bottles": "number", "facts": "seq", "takings": "seq", "history": "id",
		"lab_sessions": "number", "articles": "number", "containers": "number", "stock_entries": "seq",
	} {
		sql := fmt.Sprintf("SELECT setval(pg_get_serial_sequence('%s', '%s'), coalesce(max(%s), 1), max(%s) IS NOT NULL) FROM %s",
			table, column, column, column, table)
		if err := s.db.Exec(sql).Error; err != nil {
			return err
		}
	}
	return nil
}

// Restoring lets changes go without a history in a database that has none yet, until the
// transaction ends.
func (s *Store) Restoring() error {
	return s.db.Exec("SELECT set_config('vialbench.restoring', 'on', true)").Error
}

// LabelsPrinted notes when the labels of bottles were printed.
func (s *Store) LabelsPrinted(ids []string, at time.Time) error {
	return s.db.Model(&Bottle{}).Where("id IN ?", ids).Update("label_printed_at", at).Error
}

// Glass lists the glass of the lab.
func (s *Store) Glass() ([]Glass, error) {
	return many[Glass](s.db.Order("kind DESC, volume, class, mark"))
}

// GlassByID finds a piece of glass.
func (s *Store) GlassByID(id string) (Glass, error) { return one[Glass](s.db.Where("id = ?", id)) }

// DeleteGlass takes glass off the list.
func (s *Store) DeleteGlass(id string) error { return s.db.Where("id = ?", id).Delete(&Glass{}).Error }

// withHistory are the tables that have one.
var withHistory = []string{
	"accounts", "settings", "benches", "balances", "meters", "photometers", "glass", "substances", "systems", "bottles", "articles",
	"containers",
}

// HasHistory reports whether a table has one.
func HasHistory(table string) bool { return slices.Contains(withHistory, table) }

// HistoryAfter is what a row said after a change: before the next one, or now. It is empty
// when the row is gone.
func (s *Store) HistoryAfter(h History) (JSON, error) {
	if !HasHistory(h.What) {
		return nil, nil
	}
	next, err := many[History](s.db.Where("what = ? AND row_id = ? AND id > ?", h.What, h.RowID, h.ID).Order("id").Limit(1))
	if err != nil {
		return nil, err
	}
	if len(next) > 0 {
		return next[0].Before, nil
	}
	key := "id"
	if h.What == "substances" {
		key = "key"
	}
	var now struct{ Row JSON }
	err = s.db.Raw("SELECT to_jsonb(t) AS row FROM "+h.What+" AS t WHERE t."+key+"::text = ?", h.RowID).Scan(&now).Error
	return now.Row, err
}

// CountBottles counts the bottles on the shelf.
func (s *Store) CountBottles() (int64, error) {
	var n int64
	err := s.db.Model(&Bottle{}).Where("state = 'shelf'").Count(&n).Error
	return n, err
}
