package store

import (
	"time"

	"vialbench/core/marks"
)

// ClassGroup is a group of a session with a sheet of its own, which its code opens.
type ClassGroup struct {
	ID        string `gorm:"primaryKey"`
	SessionID string
	Session   LabSession `gorm:"foreignKey:SessionID"`
	Number    int
	Name      string
	Code      string
	AccountID string
	Account   Account `gorm:"foreignKey:AccountID"`
	// HandAt is since when it has its hand raised.
	HandAt *time.Time
	// Bench says which balance, burette and meter it has, by their names; none where it uses the lab's.
	Bench  JSON `gorm:"type:jsonb;default:null"`
	MadeAt time.Time
}

// ClassTask is a plan that the groups of a session carry out.
type ClassTask struct {
	ID        string `gorm:"primaryKey"`
	SessionID string
	PlanID    string
	Plan      Plan
	Title     string
	// Unit of the result. Held is what all bottles held, with HeldU (k = 2); nil where nobody knows, or where each group has
	// an unknown of its own.
	Unit       string
	Held       *float64
	HeldU      float64
	UnknownsID *string
	Unknowns   *UnknownSet `gorm:"foreignKey:UnknownsID"`
	// Shows reports whether groups see what is computed before they handed in, Quiet whether they see no verdicts until then.
	Shows     bool
	Quiet     bool
	MadeBy    string
	Maker     Account `gorm:"foreignKey:MadeBy"`
	MadeAt    time.Time
	RemovedAt *time.Time
}

// HandIn is a result as a group worked it out.
type HandIn struct {
	ID      string `gorm:"primaryKey"`
	TaskID  string
	GroupID string
	Stated  string
	Note    string
	MadeBy  string
	Maker   Account `gorm:"foreignKey:MadeBy"`
	MadeAt  time.Time
}

// ClassScheme is how the results of a task are marked; one without parts does not mark them.
type ClassScheme struct {
	ID     string `gorm:"primaryKey"`
	TaskID string
	Scheme marks.Scheme `gorm:"type:jsonb;serializer:json"`
	MadeBy string
	Maker  Account `gorm:"foreignKey:MadeBy"`
	MadeAt time.Time
}

// ClassSchemes lists the schemes of tasks, oldest first.
func (s *Store) ClassSchemes(tasks []string) ([]ClassScheme, error) {
	return many[ClassScheme](s.db.Joins("Maker").Where("task_id IN ?", tasks).Order("class_schemes.made_at, class_schemes.id"))
}

// SlipJudgement is whether a slip that was named was one.
type SlipJudgement struct {
	ID        string `gorm:"primaryKey"`
	HandInID  string
	Slip      string
	Confirmed bool
	MadeBy    string
	Maker     Account `gorm:"foreignKey:MadeBy"`
	MadeAt    time.Time
}

// ClassWord is a word to a group, or to all of them.
type ClassWord struct {
	ID        string `gorm:"primaryKey"`
	SessionID string
	GroupID   *string // nil for all
	Said      string
	MadeBy    string
	Maker     Account `gorm:"foreignKey:MadeBy"`
	MadeAt    time.Time
}

// ClassWords lists what was said to the groups of sessions, oldest first.
func (s *Store) ClassWords(sessions []string) ([]ClassWord, error) {
	q := s.db.Joins("Maker").Where("session_id IN ?", sessions)
	return many[ClassWord](q.Order("class_words.made_at, class_words.id"))
}

// ClassGroups lists the groups of sessions by their numbers.
func (s *Store) ClassGroups(sessions []string) ([]ClassGroup, error) {
	return many[ClassGroup](s.db.Joins("Account").Where("session_id IN ?", sessions).Order("session_id, class_groups.number"))
}

// ClassGroupByID finds a group.
func (s *Store) ClassGroupByID(id string) (ClassGroup, error) {
	return one[ClassGroup](s.db.Joins("Session").Joins("Account").Where("class_groups.id = ?", id))
}

// ClassGroupByCode finds the group that a code opens.
func (s *Store) ClassGroupByCode(code string) (ClassGroup, error) {
	return one[ClassGroup](s.db.Joins("Session").Joins("Account").Where("class_groups.code = ?", code))
}

// ClassGroupOf finds the group of an account.
func (s *Store) ClassGroupOf(accountID string) (ClassGroup, error) {
	return one[ClassGroup](s.db.Joins("Session").Joins("Account").Where("class_groups.account_id = ?", accountID))
}

// RaiseHand notes since when a group has its hand raised; nil takes it down.
func (s *Store) RaiseHand(groupID string, at *time.Time) error {
	return s.db.Model(&ClassGroup{}).Where("id = ?", groupID).Update("hand_at", at).Error
}

// SetBench notes what stands on the bench of a group.
func (s *Store) SetBench(groupID string, bench JSON) error {
	return s.db.Model(&ClassGroup{}).Where("id = ?", groupID).Update("bench", bench).Error
}

// ClassTasks lists the tasks of the groups of sessions, those that were removed too, oldest first.
func (s *Store) ClassTasks(sessions []string) ([]ClassTask, error) {
	q := s.db.Joins("Plan").Joins("Unknowns").Joins("Maker").Where(`class_tasks.session_id IN ?`, sessions)
	return many[ClassTask](q.Order("class_tasks.made_at, class_tasks.id"))
}

// EarlierClassTasks lists tasks of the same title and unit that were given out before one, newest first.
func (s *Store) EarlierClassTasks(t ClassTask, most int) ([]ClassTask, error) {
	return many[ClassTask](s.db.Where("lower(title) = lower(?) AND unit = ? AND session_id <> ? AND made_at < ? AND removed_at IS NULL",
		t.Title, t.Unit, t.SessionID, t.MadeAt).Order("made_at DESC, id DESC").Limit(most))
}

// ClassTaskByID finds a task.
func (s *Store) ClassTaskByID(id string) (ClassTask, error) {
	return one[ClassTask](s.db.Joins("Plan").Joins("Unknowns").Where("class_tasks.id = ?", id))
}

// RemoveClassTask takes a task off its groups.
func (s *Store) RemoveClassTask(id string, at time.Time) error {
	return s.db.Model(&ClassTask{}).Where("id = ? AND removed_at IS NULL", id).Update("removed_at", at).Error
}

// HandIns lists what was handed in for tasks, oldest first.
func (s *Store) HandIns(tasks []string) ([]HandIn, error) {
	return many[HandIn](s.db.Joins("Maker").Where("task_id IN ?", tasks).Order("hand_ins.made_at, hand_ins.id"))
}

// ClassWordByID finds a word.
func (s *Store) ClassWordByID(id string) (ClassWord, error) {
	return one[ClassWord](s.db.Where("id = ?", id))
}

// SlipJudgementByID finds what was said of a slip.
func (s *Store) SlipJudgementByID(id string) (SlipJudgement, error) {
	return one[SlipJudgement](s.db.Where("id = ?", id))
}

// ClassSchemeByID finds a scheme of marks.
func (s *Store) ClassSchemeByID(id string) (ClassScheme, error) {
	return one[ClassScheme](s.db.Where("id = ?", id))
}

// HandInByID finds what was handed in.
func (s *Store) HandInByID(id string) (HandIn, error) { return one[HandIn](s.db.Where("id = ?", id)) }

// SlipJudgements lists what was said of the slips of some hand-ins, oldest first.
func (s *Store) SlipJudgements(handIns []string) ([]SlipJudgement, error) {
	q := s.db.Joins("Maker").Where("hand_in_id IN ?", handIns)
	return many[SlipJudgement](q.Order("slip_judgements.made_at, slip_judgements.id"))
}

// ConfirmedSlips counts how often each slip was confirmed; of each hand-in the last word counts.
func (s *Store) ConfirmedSlips() (map[string]int, error) {
	var rows []struct {
		Slip  string
		Times int
	}
	err := s.db.Raw(`SELECT slip, count(*) AS times FROM (
		SELECT DISTINCT ON (hand_in_id, slip) slip, confirmed FROM slip_judgements ORDER BY hand_in_id, slip, made_at DESC, id DESC
		) last WHERE confirmed GROUP BY slip`).Scan(&rows).Error
	confirmed := map[string]int{}
	for _, r := range rows {
		confirmed[r.Slip] = r.Times
	}
	return confirmed, err
}

// RunsOfGroups lists the runs that accounts began by plans, oldest first.
func (s *Store) RunsOfGroups(accounts, plans []string) ([]Run, error) {
	q := s.db.Joins("Plan").Joins("Beginner").Where("begun_by IN ? AND plan_id IN ?", accounts, plans)
	return many[Run](q.Order("runs.number"))
}
