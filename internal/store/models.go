package store

import (
	"bytes"
	"database/sql/driver"
	"fmt"
	"time"

	"vialbench/core/electrode"
	"vialbench/core/equilibrium"
	"vialbench/core/fact"
	"vialbench/core/glassware"
	"vialbench/core/photometry"
	"vialbench/core/run"
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
	// Address and Browser are where it was begun.
	Address, Browser string
}

// FailedSignIn is one attempt that failed, for throttling.
type FailedSignIn struct {
	ID      int64 `gorm:"primaryKey;autoIncrement;->"`
	Login   string
	Address string
	// Device is that of a former sign-in, when it was made there.
	Device []byte
	At     time.Time
}

// Device is one on which somebody signed in before; only the hash of its token is kept.
type Device struct {
	TokenHash []byte `gorm:"primaryKey"`
	AccountID string
	CreatedAt time.Time
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

// Meter is a pH meter of the lab.
type Meter struct {
	ID              string `gorm:"primaryKey"`
	electrode.Meter `gorm:"embedded"`
	// Address is where it speaks its line protocol, host:port; empty when it does not.
	Address   string
	CreatedAt time.Time
}

// Photometer is a photometer of the lab.
type Photometer struct {
	ID                    string `gorm:"primaryKey"`
	photometry.Photometer `gorm:"embedded"`
	// Address is where it speaks its line protocol, host:port; empty when it does not.
	Address   string
	CreatedAt time.Time
}

// ProbeCare is something that was done to a probe.
type ProbeCare struct {
	ID      string `gorm:"primaryKey"`
	MeterID string
	Probe   string
	What    string
	MadeBy  string
	Maker   Account `gorm:"foreignKey:MadeBy"`
	MadeAt  time.Time
}

// TableName implements gorm's tabler.
func (ProbeCare) TableName() string { return "probe_care" }

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
	MeterID          *string
	Meter            *Meter
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

// System is an acid–base system that the lab added to the library. Its key is the ID.
type System struct {
	ID        string             `gorm:"primaryKey"`
	System    equilibrium.System `gorm:"type:jsonb;serializer:json"`
	CreatedBy string
	CreatedAt time.Time
}

// Plan is what is wanted, as its kind has it.
type Plan struct {
	ID        string `gorm:"primaryKey"`
	Number    int64  `gorm:"default:(-)"`
	Kind      string
	Title     string
	Request   JSON   `gorm:"type:jsonb"`
	Asked     []byte // digest of what was asked; none of a plan that came in with records
	Batches   int    // how many runs it takes
	CreatedBy string
	Creator   Account `gorm:"foreignKey:CreatedBy"`
	CreatedAt time.Time
}

// JSON is a document kept as it is.
type JSON []byte

// Value implements driver.Valuer: nothing is NULL.
func (j JSON) Value() (driver.Value, error) {
	if len(j) == 0 {
		return nil, nil //nolint:nilnil // that is NULL
	}
	return string(j), nil
}

// Scan implements sql.Scanner.
func (j *JSON) Scan(value any) error {
	switch v := value.(type) {
	case nil:
		*j = nil
	case string:
		*j = JSON(v)
	case []byte:
		*j = JSON(bytes.Clone(v))
	default:
		return fmt.Errorf("a document comes as text, not as %T", value)
	}
	return nil
}

// Source is what a plan, or one run of it, depends on: a bottle, an instrument or an
// earlier run.
type Source struct {
	ID         int64 `gorm:"primaryKey;autoIncrement;->"`
	PlanID     *string
	RunID      *string
	Role       string
	BottleID   *string
	Instrument *string
	EarlierID  *string
}

// Run is one execution of a plan. Status, Reason and Step are computed from its facts.
type Run struct {
	ID     string `gorm:"primaryKey"`
	Number int64  `gorm:"default:(-)"`
	PlanID string
	Plan   Plan
	Batch  int
	Status string
	Reason string
	Step   string
	// Bench is where it is carried out, where that is not what its plan was made for.
	Bench     JSON `gorm:"type:jsonb;default:null"`
	BegunBy   string
	Beginner  Account `gorm:"foreignKey:BegunBy"`
	BegunAt   time.Time
	ChangedAt time.Time
}

// Fact is one stored fact. Body repeats what the columns say, as the core has it.
type Fact struct {
	ID         string `gorm:"primaryKey"`
	Seq        int64  `gorm:"default:(-)"`
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
	ID       string `gorm:"primaryKey"`
	Number   int64  `gorm:"default:(-)"`
	RunID    *string
	Run      *Run
	Part     int // of the products of its run
	PlanID   string
	Plan     Plan
	Title    string
	Product  run.Product `gorm:"type:jsonb;serializer:json"`
	Computed bool        // by this version of the program
	Volume   float64     // made, mL; 0 of what is not a liquid
	// Taken is out of it since, in mL; only [Store.Take] changes it.
	Taken          float64 `gorm:"<-:create"`
	MadeBy         string
	Maker          Account `gorm:"foreignKey:MadeBy"`
	MadeAt         time.Time
	ExpiresOn      *time.Time `gorm:"type:date"`
	StandardiseOn  *time.Time `gorm:"type:date"`
	LabelPrintedAt *time.Time
	State          string
	Reason         string
}

// Left is how much is left in mL.
func (b Bottle) Left() float64 { return max(0, b.Volume-b.Taken) }

// Parent tells which bottle was made from which. Share is how much of the parent was
// poured in; nil when it was only taken from.
type Parent struct {
	BottleID string `gorm:"primaryKey"`
	ParentID string `gorm:"primaryKey"`
	Parent   Bottle
	Share    *float64
}

// Change is how the figure that a bottle is named by moved when it was computed again.
type Change struct {
	ID       int64 `gorm:"primaryKey;autoIncrement;->"`
	BottleID string
	Moved    string
	Cause    string
	At       time.Time
}

// History is what a row of a table that may change said before a change.
type History struct {
	ID     int64 `gorm:"primaryKey"`
	What   string
	RowID  string
	Before JSON `gorm:"type:jsonb"`
	Gone   bool
	By     *string
	Actor  *Account `gorm:"foreignKey:By"`
	At     time.Time
}

// TableName implements gorm's tabler.
func (History) TableName() string { return "history" }

// Taking is what was taken out of a bottle, in mL. That of a run follows its facts.
type Taking struct {
	ID       string `gorm:"primaryKey"`
	Seq      int64  `gorm:"default:(-)"`
	BottleID string
	RunID    *string
	Volume   float64
	Purpose  string
	MadeBy   string
	Maker    Account `gorm:"foreignKey:MadeBy"`
	MadeAt   time.Time
}
