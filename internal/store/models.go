package store

import (
	"time"

	"vialbench/core/dilution"
	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/run"
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
	// Address is where it speaks its line protocol, host:port; empty when it does not.
	Address   string
	CreatedAt time.Time
}

// BalanceCheck is one reading of a check weight, in g.
type BalanceCheck struct {
	ID           string `gorm:"primaryKey"`
	BalanceID    string
	Balance      Balance
	Weight       float64
	WeightLimits float64
	Reading      float64
	Passed       bool
	Sentence     string
	MadeBy       string
	Maker        Account `gorm:"foreignKey:MadeBy"`
	MadeAt       time.Time
}

// Glass is volumetric glass that the lab owns.
type Glass struct {
	ID             string `gorm:"primaryKey"`
	glassware.Item `gorm:"embedded"`
	CreatedAt      time.Time
}

// TableName implements gorm's tabler.
func (Glass) TableName() string { return "glass" }

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

// The kinds of plan.
const (
	StandardKind = "standard"
	DilutionKind = "dilution"
)

// Plan is a question with the recipe that was computed for it then.
type Plan struct {
	ID        string `gorm:"primaryKey"`
	Number    int64  `gorm:"->"`
	Kind      string
	Title     string
	Request   solution.Request `gorm:"type:jsonb;serializer:json"` // of a standard solution
	Recipe    solution.Recipe  `gorm:"type:jsonb;serializer:json"`
	Dilution  dilution.Request `gorm:"type:jsonb;serializer:json"`
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
	Batch     int
	Status    string
	Reason    string
	Step      string
	Outcome   run.Outcome `gorm:"type:jsonb;serializer:json"`
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

// Bottle is what a finished run puts on the shelf, or what several of them were
// poured together into; then it has no run.
type Bottle struct {
	ID             string `gorm:"primaryKey"`
	Number         int64  `gorm:"->"`
	RunID          *string
	Run            *Run
	Part           int     // which tube of a dilution
	ParentID       *string // the bottle it was diluted from
	PlanID         string
	Plan           Plan
	Title          string
	Concentration  float64
	U              float64
	Unit           string
	Outcome        run.Outcome `gorm:"type:jsonb;serializer:json"`
	Volume         float64     // made, mL
	Taken          float64     // out of it since, mL
	MadeBy         string
	Maker          Account `gorm:"foreignKey:MadeBy"`
	MadeAt         time.Time
	ExpiresOn      time.Time  `gorm:"type:date"`
	StandardiseOn  *time.Time `gorm:"type:date"`
	LabelPrintedAt *time.Time
	State          string
	Reason         string
}

// Left is how much is left in mL.
func (b Bottle) Left() float64 { return max(0, b.Volume-b.Taken) }

// Pouring tells which bottle was poured into which, and how much of it was left.
type Pouring struct {
	FromID string `gorm:"primaryKey"`
	From   Bottle
	IntoID string
	Share  float64
}

// Taking is what was taken out of a bottle, in mL.
type Taking struct {
	ID       string `gorm:"primaryKey"`
	Seq      int64  `gorm:"->"`
	BottleID string
	Volume   float64
	Purpose  string
	MadeBy   string
	Maker    Account `gorm:"foreignKey:MadeBy"`
	MadeAt   time.Time
}
