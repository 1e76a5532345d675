package store

// LockForComputing keeps two processes that start together from computing all records
// again at once, until the transaction ends.
func (s *Store) LockForComputing() error {
	return s.db.Exec("SELECT pg_advisory_xact_lock(?)", migrationLock+1).Error
}

// UncomputedBottles counts the bottles that an earlier version of the program left.
func (s *Store) UncomputedBottles() (n int64, err error) {
	err = s.db.Model(&Bottle{}).Where("NOT computed").Count(&n).Error
	return n, err
}

// ComputedBy is the version of the computations that the records were computed by last.
func (s *Store) ComputedBy() (version int, err error) {
	err = s.db.Table("computed_by").Select("version").Take(&version).Error
	return version, err
}

// AllComputed notes that nothing is left of an earlier version.
func (s *Store) AllComputed(version int) error {
	if err := s.db.Model(&Bottle{}).Where("NOT computed").Update("computed", true).Error; err != nil {
		return err
	}
	return s.db.Exec("UPDATE computed_by SET version = ?", version).Error
}
