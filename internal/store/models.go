package store

import (
	"time"

	"vialbench/core/fact"
	"vialbench/core/solution"
	"vialbench/core/substance"
	"vialbench/core/verdict"
	"vialbench/core/weighing"
)

// Account is a person who signs in.
type Account struct {
	ID           string `gorm:"primaryKey"`
	Name         string
	Initials     string
	Login        string
	Role         string
	PasswordHash string
	Active       bool
	CreatedAt    time.Time
}

// SignIn is a session of an account; only the hash of its token is kept.
type SignIn struct {
	TokenHash []byte `gorm:"primaryKey"`
	AccountID string
	Account   Account
	CreatedAt time.Time
	ExpiresAt time.Time
}

// FailedSignIn is one attempt that failed, for throttling.
type FailedSignIn struct {
	ID      int64 `gorm:"primaryKey;autoIncrement;->"`
	Login   string
	Address string
	At      time.Time
}

// Balance is a balance that the lab owns.
type Balance struct {
	ID               string `gorm:"primaryKey"`
	weighing.Balance `gorm:"embedded"`
	CreatedAt        time.Time
}

// Bench is what is on the bench now: one row.
type Bench struct {
	ID               int `gorm:"primaryKey"`
	Session          string
	WaterTemperature float64
	BalanceID        *string
	Balance          *Balance
	Version          int
}

// Settings are the rules of the lab: one row.
type Settings struct {
	ID         int `gorm:"primaryKey"`
	LabName    string
	FlaskClass string
	Buoyancy   bool
	Thresholds verdict.Thresholds `gorm:"type:jsonb;serializer:json"`
	Version    int
}

// TableName implements gorm's tabler.
func (Settings) TableName() string { return "settings" }

// Substance is a substance that the lab added to the library.
type Substance struct {
	Key       string              `gorm:"primaryKey"`
	Substance substance.Substance `gorm:"type:jsonb;serializer:json"`
	CreatedBy string
	CreatedAt time.Time
}

// Plan is a question with the recipe that was computed for it then.
type Plan struct {
	ID        string `gorm:"primaryKey"`
	Number    int64  `gorm:"->"`
	Title     string
	Request   solution.Request `gorm:"type:jsonb;serializer:json"`
	Recipe    solution.Recipe  `gorm:"type:jsonb;serializer:json"`
	CreatedBy string
	Creator   Account `gorm:"foreignKey:CreatedBy"`
	CreatedAt time.Time
}

// Run is one execution of a plan. Status, Reason, Step and Outcome are computed
// from its facts.
type Run struct {
	ID        string `gorm:"primaryKey"`
	Number    int64  `gorm:"->"`
	PlanID    string
	Plan      Plan
	Status    string
	Reason    string
	Step      string
	Outcome   solution.Outcome `gorm:"type:jsonb;serializer:json"`
	BegunBy   string
	Beginner  Account `gorm:"foreignKey:BegunBy"`
	BegunAt   time.Time
	ChangedAt time.Time
}

// Fact is one stored fact. Body repeats what the columns say, as the core has it.
type Fact struct {
	ID         string `gorm:"primaryKey"`
	Seq        int64  `gorm:"->"`
	RunID      string
	Run        Run
	Kind       string
	Body       fact.Fact `gorm:"type:jsonb;serializer:json"`
	Sentence   string
	MadeBy     string
	Maker      Account `gorm:"foreignKey:MadeBy"`
	MadeAt     time.Time
	RecordedAt time.Time
	Replaces   *string
	Reason     string
}

// Bottle is what a finished run puts on the shelf.
type Bottle struct {
	ID            string `gorm:"primaryKey"`
	Number        int64  `gorm:"->"`
	RunID         string
	Run           Run
	Title         string
	Concentration float64
	U             float64
	Unit          string
	Outcome       solution.Outcome `gorm:"type:jsonb;serializer:json"`
	MadeBy        string
	Maker         Account `gorm:"foreignKey:MadeBy"`
	MadeAt        time.Time
	ExpiresOn     time.Time `gorm:"type:date"`
	State         string
	Reason        string
}
