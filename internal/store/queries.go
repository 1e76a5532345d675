package store

import (
	"strings"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
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

// CountAccounts counts the accounts.
func (s *Store) CountAccounts() (int64, error) {
	var n int64
	err := s.db.Model(&Account{}).Count(&n).Error
	return n, err
}

// LockAccounts keeps other transactions from making accounts until this one ends.
func (s *Store) LockAccounts() error {
	return s.db.Exec("LOCK TABLE accounts IN SHARE ROW EXCLUSIVE MODE").Error
}

// Accounts lists all accounts by name.
func (s *Store) Accounts() ([]Account, error) { return many[Account](s.db.Order("name, id")) }

// AccountByID finds an account.
func (s *Store) AccountByID(id string) (Account, error) {
	return one[Account](s.db.Where("id = ?", id))
}

// AccountByLogin finds an account by its lower-case sign-in name.
func (s *Store) AccountByLogin(login string) (Account, error) {
	return one[Account](s.db.Where("login = ?", login))
}

// SignInByToken finds a session that has not expired, with its account.
func (s *Store) SignInByToken(hash []byte, now time.Time) (SignIn, error) {
	return one[SignIn](s.db.Joins("Account").Where("token_hash = ? AND expires_at > ?", hash, now))
}

// ExtendSignIn moves the end of a session.
func (s *Store) ExtendSignIn(hash []byte, until time.Time) error {
	return s.db.Model(&SignIn{}).Where("token_hash = ?", hash).Update("expires_at", until).Error
}

// DeleteSignIn ends a session, DeleteSignInsOf all those of an account.
func (s *Store) DeleteSignIn(hash []byte) error {
	return s.db.Where("token_hash = ?", hash).Delete(&SignIn{}).Error
}

// DeleteSignInsOf ends all sessions of an account.
func (s *Store) DeleteSignInsOf(accountID string) error {
	return s.db.Where("account_id = ?", accountID).Delete(&SignIn{}).Error
}

// DeleteOldSignIns removes sessions that have expired and attempts older than a day.
func (s *Store) DeleteOldSignIns(now time.Time) error {
	if err := s.db.Where("expires_at <= ?", now).Delete(&SignIn{}).Error; err != nil {
		return err
	}
	return s.db.Where("at < ?", now.Add(-24*time.Hour)).Delete(&FailedSignIn{}).Error
}

// FailedSignIns counts failed attempts for a sign-in name and from an address since a time.
func (s *Store) FailedSignIns(login, address string, since time.Time) (byLogin, byAddress int64, err error) {
	if err = s.db.Model(&FailedSignIn{}).Where("login = ? AND at > ?", login, since).Count(&byLogin).Error; err != nil {
		return 0, 0, err
	}
	err = s.db.Model(&FailedSignIn{}).Where("address = ? AND at > ?", address, since).Count(&byAddress).Error
	return byLogin, byAddress, err
}

// ForgetFailures removes the failed attempts of a sign-in name.
func (s *Store) ForgetFailures(login string) error {
	return s.db.Where("login = ?", login).Delete(&FailedSignIn{}).Error
}

// Bench returns the bench with its balance.
func (s *Store) Bench() (Bench, error) {
	return one[Bench](s.db.Joins("Balance").Where("benches.id = 1"))
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

// Balances lists the balances by name.
func (s *Store) Balances() ([]Balance, error) { return many[Balance](s.db.Order("name, id")) }

// BalanceByID finds a balance.
func (s *Store) BalanceByID(id string) (Balance, error) {
	return one[Balance](s.db.Where("id = ?", id))
}

// Substances lists the lab's own substances.
func (s *Store) Substances() ([]Substance, error) { return many[Substance](s.db.Order("key")) }

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
	if forChange {
		if err := s.db.Model(&Run{}).Clauses(clause.Locking{Strength: "UPDATE"}).Where("id = ?", id).Take(&struct{ ID string }{}).Error; err != nil {
			return Run{}, err
		}
	}
	return one[Run](s.db.Joins("Plan").Joins("Plan.Creator").Joins("Beginner").Where("runs.id = ?", id))
}

// Runs lists runs, newest first, of one status or all, with a number below before.
func (s *Store) Runs(status string, before int64, most int) ([]Run, error) {
	q := s.db.Joins("Plan").Joins("Beginner").Where("runs.number < ?", before)
	if status != "" {
		q = q.Where("runs.status = ?", status)
	}
	return many[Run](q.Order("runs.number DESC").Limit(most))
}

// FactsOfRun lists the facts of a run in the order in which they were stated.
func (s *Store) FactsOfRun(runID string) ([]Fact, error) {
	return many[Fact](s.db.Joins("Maker").Where("run_id = ?", runID).Order("seq"))
}

// FactByID finds a fact.
func (s *Store) FactByID(id string) (Fact, error) { return one[Fact](s.db.Where("id = ?", id)) }

// LogFilter narrows the logbook. Zero fields do not narrow.
type LogFilter struct {
	Text     string
	Initials string
	From, To time.Time // To is exclusive
}

// Log lists facts, newest first, with a sequence number below before; with their
// run, plan and maker.
func (s *Store) Log(f LogFilter, before int64, most int) ([]Fact, error) {
	q := s.db.Joins("Maker").Joins("Run").Joins("Run.Plan").Where("facts.seq < ?", before)
	if f.Text != "" {
		like := "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(f.Text) + "%"
		q = q.Where(`facts.sentence ILIKE @like OR facts.reason ILIKE @like OR "Run__Plan".title ILIKE @like`, map[string]any{"like": like})
	}
	if f.Initials != "" {
		q = q.Where(`"Maker".initials = ?`, f.Initials)
	}
	if !f.From.IsZero() {
		q = q.Where("facts.made_at >= ?", f.From)
	}
	if !f.To.IsZero() {
		q = q.Where("facts.made_at < ?", f.To)
	}
	return many[Fact](q.Order("facts.seq DESC").Limit(most))
}

// Corrections lists the facts that replace any of the given ones.
func (s *Store) Corrections(ids []string) ([]Fact, error) {
	return many[Fact](s.db.Joins("Maker").Where("replaces IN ?", ids))
}

func (s *Store) bottles() *gorm.DB {
	return s.db.Joins("Maker").Joins("Run").Joins("Run.Plan")
}

// BottleByID finds a bottle with its run and plan.
func (s *Store) BottleByID(id string) (Bottle, error) {
	return one[Bottle](s.bottles().Where("bottles.id = ?", id))
}

// BottleOfRun finds the bottle that a run made.
func (s *Store) BottleOfRun(runID string) (Bottle, error) {
	return one[Bottle](s.bottles().Where("bottles.run_id = ?", runID))
}

// Bottles lists bottles, newest first, whose title holds the text, with a number
// below before.
func (s *Store) Bottles(text string, before int64, most int) ([]Bottle, error) {
	q := s.bottles().Where("bottles.number < ?", before)
	if text != "" {
		like := "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(text) + "%"
		q = q.Where("bottles.title ILIKE ?", like)
	}
	return many[Bottle](q.Order("bottles.number DESC").Limit(most))
}

// ExpiringBottles lists bottles on the shelf that expire before a day.
func (s *Store) ExpiringBottles(before time.Time) ([]Bottle, error) {
	return many[Bottle](s.bottles().Where("state = 'shelf' AND expires_on < ?", before).Order("expires_on, bottles.number"))
}

// CountBottles counts the bottles on the shelf.
func (s *Store) CountBottles() (int64, error) {
	var n int64
	err := s.db.Model(&Bottle{}).Where("state = 'shelf'").Count(&n).Error
	return n, err
}
