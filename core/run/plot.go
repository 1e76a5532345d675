package run

// Plot is what the report of a run draws: readings and lines over two axes.
type Plot struct {
	XLabel, YLabel string
	// Points are readings; Hollow are those that do not count.
	Points, Hollow [][2]float64
	// Lines are drawn through their points, Areas filled between theirs.
	Lines, Areas [][][2]float64
	// Drops lead from the y axis to a point and down to the x axis; Names stand at them.
	Drops [][2]float64
	Names []string
}
