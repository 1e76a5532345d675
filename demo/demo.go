// Package demo holds the sample records: pond-water week at Alderbrook College, a
// made-up place with made-up people.
package demo

import (
	"context"
	_ "embed"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"vialbench/internal/lab"
	"vialbench/internal/standin"
	"vialbench/internal/store"
)

//go:embed people.json
var peopleJSON []byte

//go:embed records.json
var recordsJSON []byte

// Lab is the name of the laboratory of the sample records.
const labName = "Alderbrook College"

// Password opens every sample account.
const Password = "pond-water-week"

// Load makes the sample accounts and takes in the sample records, moved to this
// week, unless the database has accounts already. It returns the sentence that
// says how to sign in.
func Load(ctx context.Context, l *lab.Lab) (signIn string, err error) {
	var people []lab.NewAccount
	if err := json.Unmarshal(peopleJSON, &people); err != nil {
		return "", err
	}
	lines := []string{"  Sign in as"}
	for _, p := range people {
		lines = append(lines, fmt.Sprintf("    %-10s %s (%s, %s)", p.Login, Password, p.Name, p.Role))
	}
	signIn = strings.Join(lines, "\n") + "\n"

	fresh, err := l.NeedsSetup(ctx)
	if err != nil || !fresh {
		return signIn, err
	}
	var first lab.Actor
	for i, p := range people {
		p.Password = Password
		if i == 0 {
			first.Account, err = l.CreateFirst(ctx, p)
		} else {
			_, err = l.CreatePerson(ctx, first, p)
		}
		if err != nil {
			return "", err
		}
	}
	var records lab.Records
	if err := json.Unmarshal(recordsJSON, &records); err != nil {
		return "", err
	}
	records.Shift(daysToNow(records, time.Now()))
	if _, err := l.Import(ctx, first, records, false); err != nil {
		return "", err
	}
	settings, err := l.Settings(ctx)
	if err != nil {
		return "", err
	}
	settings.LabName = labName
	if _, err := l.ChangeSettings(ctx, first, settings); err != nil {
		return "", err
	}
	bench, err := l.Bench(ctx)
	if err != nil {
		return "", err
	}
	_, err = l.ChangeBench(
		ctx,
		first,
		lab.BenchChange{
			Session:          "Pond-water week, Tuesday",
			WaterTemperature: 21.4,
			BalanceID:        bench.BalanceID,
			MeterID:          bench.MeterID,
			Version:          bench.Version,
		},
	)
	if err != nil {
		return "", err
	}
	now := time.Now()
	if err := planSessions(ctx, l, first, now); err != nil {
		return "", err
	}
	return signIn, fillStore(ctx, l, first, now)
}

// Standin is a simulated instrument that speaks for one of the sample records.
type Standin struct {
	Name string // of the balance, the meter or the photometer
	standin.Instrument
}

// Standins are the simulated counterparts of the analytical balance, the two meters and the photometer of the sample records:
// one probe is well, the other old.
func Standins() []Standin {
	dunlin := standin.NewPhotometer(5, 2e-4, 4)
	dunlin.Do("STANDIN:NOISE 0.0001") // a steady one: what stands goes on standing
	return []Standin{
		{"Fern", standin.NewBalance(220, 0.0001, 1)},
		{"Heron", standin.NewMeter(0.989, 4.6, 1.6, 2)},
		{"Coot", standin.NewMeter(0.936, -16.6, 7, 3)},
		{"Dunlin", dunlin},
	}
}

// ConnectStandin lets the stand-in at an address speak for the instrument of a name, unless one speaks for it already.
func ConnectStandin(ctx context.Context, l *lab.Lab, name, address string) error {
	people, err := l.People(ctx)
	if err != nil {
		return err
	}
	i := slices.IndexFunc(people, func(p store.Account) bool { return p.Role == lab.Instructor })
	if i < 0 {
		return nil
	}
	by := lab.Actor{Account: people[i]}
	of, err := instrumentOf(ctx, l, name)
	if err != nil || of == nil {
		return err
	}
	if err := of.answers(); err == nil {
		return nil
	}
	return of.connect(by, address)
}

// instrument is one of the sample records.
type instrument struct {
	answers func() error
	connect func(by lab.Actor, address string) error
}

// instrumentOf finds the instrument of a name; nil when there is none.
func instrumentOf(ctx context.Context, l *lab.Lab, name string) (*instrument, error) {
	balances, err := l.Balances(ctx)
	if err != nil {
		return nil, err
	}
	for _, b := range balances {
		if b.Name == name {
			return &instrument{
				func() error { _, err := l.HandStandin(ctx, b.ID, ""); return err },
				func(by lab.Actor, address string) error { return l.ConnectBalance(ctx, by, b.ID, address) },
			}, nil
		}
	}
	meters, err := l.Meters(ctx)
	if err != nil {
		return nil, err
	}
	for _, m := range meters {
		if m.Name == name {
			return &instrument{
				func() error { _, err := l.HandStandinMeter(ctx, m.ID, ""); return err },
				func(by lab.Actor, address string) error { return l.ChangeMeter(ctx, by, m.ID, address, m.Probe) },
			}, nil
		}
	}
	photometers, err := l.Photometers(ctx)
	if err != nil {
		return nil, err
	}
	for _, p := range photometers {
		if p.Name == name {
			return &instrument{
				func() error { _, err := l.HandStandinPhotometer(ctx, p.ID, ""); return err },
				func(by lab.Actor, address string) error { return l.ConnectPhotometer(ctx, by, p.ID, address) },
			}, nil
		}
	}
	return nil, nil
}

// daysToNow is how far to move the records so that the newest fact is of today,
// or of yesterday when today's hour has not come yet.
func daysToNow(r lab.Records, now time.Time) int {
	var newest time.Time
	for _, run := range r.Runs {
		for _, f := range run.Facts {
			if f.At.After(newest) {
				newest = f.At
			}
		}
	}
	if newest.IsZero() {
		return 0
	}
	days := int(now.Sub(newest).Hours() / 24)
	if now.Before(newest) {
		days--
	}
	return days
}
