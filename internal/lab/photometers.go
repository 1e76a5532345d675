package lab

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"vialbench/core/photometry"
	"vialbench/core/quantity"
	"vialbench/core/verdict"
	"vialbench/internal/instrument"
	"vialbench/internal/standin"
	"vialbench/internal/store"
)

// Photometers lists the photometers of the lab by name.
func (l *Lab) Photometers(ctx context.Context) ([]store.Photometer, error) {
	return l.store.With(ctx).Photometers()
}

// AddPhotometer adds a photometer.
func (l *Lab) AddPhotometer(ctx context.Context, by Actor, p photometry.Photometer) (store.Photometer, error) {
	if err := by.mayRule("adding photometers"); err != nil {
		return store.Photometer{}, err
	}
	row := store.Photometer{ID: newID(), Photometer: p, CreatedAt: l.now()}
	err := l.change(ctx, by, func(tx *store.Store) error { return addPhotometer(tx, &row) })
	return row, err
}

func addPhotometer(tx *store.Store, row *store.Photometer) error {
	row.Name = strings.TrimSpace(row.Name)
	if err := row.Check(); err != nil {
		return err
	}
	if err := tx.Create(row); err != nil {
		if store.IsDuplicate(err) {
			return verdict.Problems{{Field: "/name", Reason: "there is a photometer of that name: give it another"}}
		}
		return err
	}
	return tx.Announce("setup")
}

// ConnectPhotometer sets where a photometer speaks its line protocol, host:port; empty when it does not.
func (l *Lab) ConnectPhotometer(ctx context.Context, by Actor, id, address string) error {
	if err := by.mayRule("connecting photometers"); err != nil {
		return err
	}
	address, err := l.addressOf(address)
	if err != nil {
		return err
	}
	return l.change(ctx, by, func(tx *store.Store) error {
		row, err := tx.PhotometerByID(id)
		if err != nil {
			return found(err, "this photometer")
		}
		row.Address = address
		return errors.Join(tx.Save(&row), tx.Announce("setup"))
	})
}

func (l *Lab) photometerAt(ctx context.Context, id string) (store.Photometer, error) {
	p, err := l.store.With(ctx).PhotometerByID(id)
	return p, found(err, "this photometer")
}

func photometerLine(p store.Photometer) connection {
	return connection{p.Name, p.Address, standin.PhotometerModel}
}

// WatchPhotometer passes on what a photometer shows until the context ends.
func (l *Lab) WatchPhotometer(ctx context.Context, id string, show func(Live) error) error {
	p, err := l.photometerAt(ctx, id)
	if err != nil {
		return err
	}
	settings, err := l.store.With(ctx).Settings()
	if err != nil {
		return err
	}
	var recent []instrument.Sample
	return l.watch(ctx, photometerLine(p), show, func(s instrument.Sample) Live { return lookThrough(p, &recent, s, settings.Thresholds) })
}

// lookThrough judges a sample by those of the last moments, at the same wavelength.
func lookThrough(p store.Photometer, recent *[]instrument.Sample, s instrument.Sample, t verdict.Thresholds) Live {
	switch {
	case s.Err != nil || len(s.Quantities) > 0 && s.Main().Unit.Dimension != quantity.Absorbance: // something else answers there
		*recent = nil
		return lost(p.Name)
	case s.State == instrument.Overload || s.State == instrument.Underload:
		*recent = nil
		return Live{State: string(s.State), Says: "Too little light comes through: dilute it, and look whether the cell stands right."}
	}
	if n := len(*recent); n > 0 && !sameSetting((*recent)[n-1], s) {
		*recent = nil
	}
	*recent = append(*recent, s)
	for len(*recent) > 1 && s.At.Sub((*recent)[0].At) > window {
		*recent = (*recent)[1:]
	}
	shown := make([]float64, len(*recent))
	for i, r := range *recent {
		shown[i] = r.Main().In("AU")
	}
	live := Live{Text: s.Main().String(), Readings: s.Quantities, State: string(s.State)}
	var spread float64
	if spread, live.Still = p.Settled(shown, s.State == instrument.Stable, t); !live.Still {
		v := p.Wandering(spread)
		live.Verdict = &v
	}
	moved := quantity.Of(max(spread, p.Resolution), "AU")
	moved.Decimals = 3
	live.Spread = &moved
	return live
}

// sameSetting reports whether two samples were taken at the same wavelength.
func sameSetting(a, b instrument.Sample) bool {
	if len(a.Quantities) != len(b.Quantities) {
		return false
	}
	for i := range a.Quantities {
		if a.Quantities[i].Unit.Dimension == quantity.Wavelength && a.Quantities[i].Base() != b.Quantities[i].Base() {
			return false
		}
	}
	return true
}

// SetPhotometer sets a connected photometer to a wavelength in nm.
func (l *Lab) SetPhotometer(ctx context.Context, id string, nm float64) error {
	return l.withPhotometer(ctx, id, func(p store.Photometer, line *instrument.Connection) error {
		var problems verdict.Problems
		if p.CheckSetting(nm, "/nm", &problems); len(problems) > 0 {
			return problems
		}
		return line.SetWavelength(nm)
	})
}

// ZeroPhotometer lets what is in the beam of a connected photometer count as the blank: at its wavelength, or everywhere.
func (l *Lab) ZeroPhotometer(ctx context.Context, id string, everywhere bool) error {
	return l.withPhotometer(ctx, id, func(_ store.Photometer, line *instrument.Connection) error { return line.Blank(everywhere) })
}

// longestScan leaves a request the time to say that a slow photometer took too long.
const longestScan = 25 * time.Second

// ScanPhotometer reads the absorbance of what is in the beam from one wavelength to another, so far apart, all in nm.
func (l *Lab) ScanPhotometer(ctx context.Context, id string, from, to, step float64) (nm, absorbance []float64, err error) {
	err = l.withPhotometer(ctx, id, func(p store.Photometer, line *instrument.Connection) (err error) {
		var problems verdict.Problems
		p.CheckSetting(from, "/from", &problems)
		p.CheckSetting(to, "/to", &problems)
		switch most := float64(instrument.LongestScan); {
		case !(to > from):
			problems.Add("/to", "a scan leads from a lower to a higher wavelength")
		case !(step > 0) || (to-from)/step > most:
			problems.Add("/step", "at most %g steps: every %s nm or more", most, quantity.Trim(quantity.Significant((to-from)/most, 2)))
		}
		if len(problems) > 0 {
			return problems
		}
		ctx, cancel := context.WithTimeout(ctx, longestScan)
		defer cancel()
		nm, absorbance, err = line.Scan(ctx, from, to, step)
		return err
	})
	return nm, absorbance, err
}

// withPhotometer talks to a connected photometer. What it refuses is a conflict: a person puts it right at the bench.
func (l *Lab) withPhotometer(ctx context.Context, id string, talk func(store.Photometer, *instrument.Connection) error) error {
	p, err := l.photometerAt(ctx, id)
	if err != nil {
		return err
	}
	line, err := l.open(ctx, photometerLine(p), instrument.Open)
	if err != nil {
		return err
	}
	var problems verdict.Problems
	if err = errors.Join(talk(p, line), line.Close()); err == nil || errors.As(err, &problems) {
		return err
	}
	return Conflict{fmt.Sprintf("%s: %s", p.Name, err)}
}

// HandStandinPhotometer does something to a photometer that is a stand-in, and returns its state.
func (l *Lab) HandStandinPhotometer(ctx context.Context, id, command string) (string, error) {
	p, err := l.photometerAt(ctx, id)
	if err != nil {
		return "", err
	}
	return l.handStandin(ctx, photometerLine(p), "nm=", command)
}

// photometer is one of the lab by its ID; nil where none is named.
func (o *owned) photometer(id string) (*photometry.Photometer, error) {
	if id == "" {
		return nil, nil
	}
	if !isUUID(id) {
		return nil, verdict.Problems{{Field: "/photometer", Reason: "a photometer is named by its ID"}}
	}
	p, err := o.tx.PhotometerByID(id)
	if err != nil {
		return nil, at("/photometer", found(err, "this photometer"))
	}
	return &p.Photometer, nil
}

func (in *importer) takePhotometer(place string, r PhotometerRecord) {
	p := r.Photometer
	p.Name = strings.TrimSpace(p.Name)
	if err := p.Check(); in.blame(place, err) != nil || err != nil {
		return
	}
	name := strings.ToLower(p.Name)
	old, ok := in.photometers[name]
	switch {
	case ok && old.Photometer == p:
		in.report.Known++
		return
	case ok:
		old.Photometer = p
		in.report.Changed++
		in.change(func() error { return in.tx.Save(&old) }, "changed: photometer %s", p.Name)
	default:
		old = store.Photometer{Photometer: p}
		taken := func(id string) bool {
			for _, other := range in.photometers {
				if other.ID == id {
					return true
				}
			}
			return false
		}
		old.ID, old.CreatedAt, old.Address = in.asGiven("photometer "+p.Name, r.ID, taken(r.ID), r.At, r.Address)
		in.report.Photometers++
		in.change(func() error { return addPhotometer(in.tx, &old) }, "new: photometer %s", p.Name)
	}
	in.photometers[name] = old
}

// asGiven is what a file says of an instrument that is new here, as far as it can be kept: its ID, since when it is there, and where
// it is connected.
func (in *importer) asGiven(what, id string, taken bool, at *time.Time, address string) (newOne string, since time.Time, reached string) {
	if !isUUID(id) || taken {
		id = newID()
	}
	since = in.now()
	if at != nil {
		since = *at
	}
	if address != "" {
		if err := in.Reach.Check(address); err != nil {
			in.note("%s is not connected here: %s", what, err)
			address = ""
		}
	}
	return id, since, address
}
