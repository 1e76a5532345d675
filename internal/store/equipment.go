package store

// Balances lists the balances by name.
func (s *Store) Balances() ([]Balance, error) { return many[Balance](s.db.Order("name, id")) }

// BalanceByID finds a balance.
func (s *Store) BalanceByID(id string) (Balance, error) {
	return one[Balance](s.db.Where("id = ?", id))
}

// Meters lists the pH meters by name.
func (s *Store) Meters() ([]Meter, error) { return many[Meter](s.db.Order("name, id")) }

// MeterByID finds a meter.
func (s *Store) MeterByID(id string) (Meter, error) { return one[Meter](s.db.Where("id = ?", id)) }

// Photometers lists the photometers by name.
func (s *Store) Photometers() ([]Photometer, error) {
	return many[Photometer](s.db.Order("name, id"))
}

// PhotometerByID finds a photometer.
func (s *Store) PhotometerByID(id string) (Photometer, error) {
	return one[Photometer](s.db.Where("id = ?", id))
}

// BalanceChecks lists the checks of one balance, or of all with an empty ID, newest
// first.
func (s *Store) BalanceChecks(balanceID string, most int) ([]BalanceCheck, error) {
	q := s.db.Joins("Maker").Joins("Balance")
	if balanceID != "" {
		q = q.Where("balance_id = ?", balanceID)
	}
	return many[BalanceCheck](q.Order("made_at DESC, balance_checks.id DESC").Limit(most))
}

// Histories lists what was changed, newest first, with an ID below before.
func (s *Store) Histories(before int64, most int) ([]History, error) {
	return many[History](s.db.Joins("Actor").Where("history.id < ?", before).Order("history.id DESC").Limit(most))
}

// BalanceCheckByID finds a check.
func (s *Store) BalanceCheckByID(id string) (BalanceCheck, error) {
	return one[BalanceCheck](s.db.Where("id = ?", id))
}
