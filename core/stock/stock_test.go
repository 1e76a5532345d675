package stock_test

import (
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"

	"vialbench/core/stock"
	"vialbench/core/substance"
	"vialbench/core/verdict"
)

func at(day string) time.Time {
	t, err := time.Parse("2006-01-02 15:04", day+" 09:00")
	if err != nil {
		panic(err)
	}
	return t
}

func Example() {
	lye := stock.Article{Name: "Sodium hydroxide", Unit: stock.Grams, Minimum: 50, LeadDays: 4}
	tub := stock.Container{Number: 7, Left: 40}
	class := stock.Demand{Title: "Acid in pond water", At: at("2026-12-09"), Amount: 55}
	s := lye.Stands([]stock.Container{tub}, []stock.Demand{class}, at("2026-12-01"))
	fmt.Println(s.OrderBy, lye.Unit.Say(s.Order))
	fmt.Println(s.Verdicts[0].Sentence)
	// Output:
	// 2026-12-01 65 g
	// “Acid in pond water” on 9 Dec takes 55 g, and 15 g are missing: order by Fri 4 Dec.
}

// What was taken before a count is in that count.
func TestLeft(t *testing.T) {
	day := func(n int) time.Time { return at("2026-12-01").AddDate(0, 0, n) }
	taken := []stock.Entry{{5.1056, day(-1)}, {4.2, day(1)}, {0.3, day(2)}}
	if left := stock.Left(stock.Entry{Amount: 100, At: day(0)}, taken); left != 95.5 {
		t.Errorf("%g g left, want 95.5", left)
	}
	if left := stock.Left(stock.Entry{Amount: 3, At: day(1)}, taken); left != 2.7 {
		t.Errorf("%g g left, want 2.7: what was taken at the time of the count is in it", left)
	}
	if left := stock.Left(stock.Entry{Amount: 0.1, At: day(0)}, taken); left != -4.4 {
		t.Errorf("%g g left, want −4.4", left)
	}
}

func TestWhichContainer(t *testing.T) {
	full := stock.Container{ID: "full", Number: 3, Left: 500}
	open := stock.Container{ID: "open", Number: 4, Left: 20, Opened: "2026-10-01"}
	opener := stock.Container{ID: "opened before", Number: 5, Left: 10, Opened: "2026-09-01"}
	soon := stock.Container{ID: "expires soon", Number: 6, Left: 500, Expires: "2026-12-24"}
	over := stock.Container{ID: "over", Number: 1, Left: 500, Opened: "2026-01-01", Expires: "2026-11-30"}
	empty := stock.Container{ID: "empty", Number: 2, Left: 0, Opened: "2026-01-01"}
	for _, c := range []struct {
		name   string
		list   []stock.Container
		amount float64
		want   string
	}{
		{"what is open before what is full", []stock.Container{full, open}, 5, "open"},
		{"what was opened first", []stock.Container{open, opener}, 5, "opened before"},
		{"the first that holds enough", []stock.Container{full, opener, open}, 15, "open"},
		{"a full one when nothing open holds enough", []stock.Container{open, full}, 25, "full"},
		{"what expires first", []stock.Container{full, soon}, 25, "expires soon"},
		{"not what has expired", []stock.Container{over, full}, 5, "full"},
		{"not what is empty", []stock.Container{empty, full}, 900, "full"},
		{"what has expired, when that is all", []stock.Container{over}, 5, "over"},
		{"what has expired last of all, though it was opened first", []stock.Container{over, open}, 900, "open"},
		{"what is empty after what holds a little", []stock.Container{empty, full}, 900, "full"},
		{"all that is in it", []stock.Container{open, full}, 20, "open"},
		{"what was in use, though more was taken than was there", []stock.Container{open, full}, 900, "open"},
	} {
		if got := stock.From(c.list, c.amount, "2026-12-01"); c.list[got].ID != c.want {
			t.Errorf("%s: from %s", c.name, c.list[got].ID)
		}
	}
	if stock.From(nil, 1, "2026-12-01") != -1 {
		t.Error("taken from nothing")
	}
}

// Worked by hand: orders go out on working days, what expires by the day does not count, and what expires first is taken
// first.
func TestStands(t *testing.T) {
	salt := stock.Article{Name: "Sodium chloride", Unit: stock.Grams, Minimum: 100, LeadDays: 3}
	jar := func(left float64, expires string) stock.Container {
		return stock.Container{Number: 1, Left: left, Expires: expires}
	}
	class := func(day string, amount float64) stock.Demand {
		return stock.Demand{Title: "Salt", At: at(day), Amount: amount}
	}
	today := "2026-12-01" // a Tuesday
	for _, c := range []struct {
		name    string
		jars    []stock.Container
		demands []stock.Demand
		want    string // usable, planned, order by, order, late
		says    []string
	}{
		{"enough", []stock.Container{jar(300, "")}, []stock.Demand{class("2026-12-08", 200)}, "300 200  0 false", nil},
		{"at the minimum", []stock.Container{jar(100, "")}, nil, "100 0  0 false", nil},
		{"below it", []stock.Container{jar(99, "")}, nil, "99 0 2026-12-01 1 false", []string{"ST-1 look 99 g left, below the minimum of 100 g."}},
		{"nothing", nil, nil, "0 0 2026-12-01 100 false", []string{"ST-1 look 0 g left, below the minimum of 100 g."}},
		{
			"below it after a session",
			[]stock.Container{jar(300, "")},
			[]stock.Demand{class("2026-12-08", 201), class("2026-12-10", 1)},
			"300 202 2026-12-08 2 false",
			[]string{"ST-1 look After “Salt” on 8 Dec 99 g are left, below the minimum of 100 g."},
		},
		{
			"short",
			[]stock.Container{jar(300, "")},
			[]stock.Demand{class("2026-12-10", 320)},
			"300 320 2026-12-07 120 false",
			[]string{"ST-2 stop “Salt” on 10 Dec takes 320 g, and 20 g are missing: order by Mon 7 Dec."},
		},
		{
			"on the Friday before",
			[]stock.Container{jar(300, "")},
			[]stock.Demand{class("2026-12-09", 320)},
			"300 320 2026-12-04 120 false",
			[]string{"ST-2 stop “Salt” on 9 Dec takes 320 g, and 20 g are missing: order by Fri 4 Dec."},
		},
		{
			"too late",
			[]stock.Container{jar(300, "")},
			[]stock.Demand{class("2026-12-03", 320)},
			"300 320 2026-11-30 120 true",
			[]string{"ST-2 stop “Salt” on 3 Dec takes 320 g, and 20 g are missing: an order takes 3 days and comes too late. Borrow it, or make less."},
		},
		{
			"the second finds what the first leaves",
			[]stock.Container{jar(300, "")},
			[]stock.Demand{class("2026-12-16", 200), class("2026-12-15", 150)},
			"300 350 2026-12-11 150 false",
			[]string{"ST-2 stop “Salt” on 16 Dec takes 200 g, and 50 g are missing: order by Fri 11 Dec."},
		},
		{
			"expired",
			[]stock.Container{jar(300, "2026-11-30"), jar(150, "")},
			nil,
			"150 0  0 false",
			[]string{"ST-3 look Container 1 expired on 2026-11-30: its 300 g do not count. Discard it as your local rules say."},
		},
		{
			"good on its last day", []stock.Container{jar(300, "2026-12-10")}, []stock.Demand{class("2026-12-10", 200)}, "300 200  0 false", nil,
		},
		{
			"expires before the day",
			[]stock.Container{jar(300, "2026-12-09")},
			[]stock.Demand{class("2026-12-10", 20)},
			"300 20 2026-12-07 120 false",
			[]string{"ST-2 stop “Salt” on 10 Dec takes 20 g, and 20 g are missing: order by Mon 7 Dec."},
		},
		{
			"what expires first is taken first",
			[]stock.Container{jar(200, ""), jar(150, "2026-12-08")},
			[]stock.Demand{class("2026-12-08", 150), class("2026-12-15", 100)},
			"350 250  0 false", nil,
		},
		{
			"to the last grain",
			[]stock.Container{jar(300, "")},
			[]stock.Demand{class("2026-12-08", 300)},
			"300 300 2026-12-08 100 false",
			[]string{"ST-1 look After “Salt” on 8 Dec 0 g are left, below the minimum of 100 g."},
		},
		{
			"the earlier of two orders",
			[]stock.Container{jar(300, "")},
			[]stock.Demand{class("2026-12-15", 310), class("2026-12-22", 10)},
			"300 320 2026-12-11 120 false",
			[]string{
				"ST-2 stop “Salt” on 15 Dec takes 310 g, and 10 g are missing: order by Fri 11 Dec.",
				"ST-2 stop “Salt” on 22 Dec takes 10 g, and 10 g are missing: order by Fri 18 Dec.",
			},
		},
		{
			"an order that goes out today",
			[]stock.Container{jar(300, "")},
			[]stock.Demand{class("2026-12-04", 320)},
			"300 320 2026-12-01 120 false",
			[]string{"ST-2 stop “Salt” on 4 Dec takes 320 g, and 20 g are missing: order by Tue 1 Dec."},
		},
		{
			"less than nothing",
			[]stock.Container{jar(-2, ""), jar(150, "")},
			nil,
			"150 0  0 false",
			[]string{"ST-4 look Container 1 holds less than nothing by the record, by 2 g: count it."},
		},
	} {
		s := salt.Stands(c.jars, c.demands, at(today))
		if got := fmt.Sprint(s.Usable, s.Planned, " "+s.OrderBy+" ", s.Order, s.Late); got != c.want {
			t.Errorf("%s: %s, want %s", c.name, got, c.want)
		}
		var says []string
		for _, v := range s.Verdicts {
			says = append(says, fmt.Sprintf("%s %s %s", v.Rule, v.Level, v.Sentence))
		}
		if strings.Join(says, "\n") != strings.Join(c.says, "\n") {
			t.Errorf("%s:\n%s\nwant\n%s", c.name, strings.Join(says, "\n"), strings.Join(c.says, "\n"))
		}
	}
}

func TestRead(t *testing.T) {
	for _, c := range []struct {
		unit  stock.Unit
		text  string
		want  float64
		wrong string
	}{
		{stock.Grams, "250", 250, ""},
		{stock.Grams, "0.5 kg", 500, ""},
		{stock.Grams, "250 mg", 0.25, ""},
		{stock.Grams, "0", 0, ""},
		{stock.Grams, "250 mL", 0, "mass"},
		{stock.Grams, "-1", 0, "from nothing to 1000000 g"},
		{stock.Millilitres, "2.5 L", 2500, ""},
		{stock.Millilitres, "2000000 L", 0, "from nothing to 1000000 mL"},
		{stock.Grams, "1000 kg", stock.MostHeld, ""},
		{stock.Grams, "1001 kg", 0, "from nothing to 1000000 g"},
		{stock.Pieces, "12", 12, ""},
		{stock.Pieces, "12 pieces", 12, ""},
		{stock.Pieces, "1.5", 0, "counted whole"},
		{stock.Pieces, "many", 0, "number"},
	} {
		got, err := c.unit.Read(c.text)
		if c.wrong == "" && (err != nil || got != c.want) || c.wrong != "" && (err == nil || !strings.Contains(err.Error(), c.wrong)) {
			t.Errorf("%s in %s: %g, %v", c.text, c.unit, got, err)
		}
	}
	for _, c := range []struct {
		unit   stock.Unit
		amount float64
		want   string
	}{{stock.Pieces, 1, "1 piece"}, {stock.Pieces, 2, "2 pieces"}, {stock.Grams, 95.50001, "95.5 g"}, {stock.Millilitres, 123456, "123456 mL"}} {
		if got := c.unit.Say(c.amount); got != c.want {
			t.Errorf("%s, want %s", got, c.want)
		}
	}
}

func TestCheck(t *testing.T) {
	known := substance.Library()
	good := stock.Article{Name: "Hydrochloric acid, 37 %", Key: "hydrochloric-acid", Unit: stock.Millilitres, Minimum: 100, LeadDays: 7}
	if err := good.Check(known); err != nil {
		t.Fatal(err)
	}
	for field, change := range map[string]func(a *stock.Article){
		"/name":     func(a *stock.Article) { a.Name = "  " },
		"/unit":     func(a *stock.Article) { a.Unit = "cups" },
		"/key":      func(a *stock.Article) { a.Key = "unobtainium" },
		"/minimum":  func(a *stock.Article) { a.Minimum = -1 },
		"/leadDays": func(a *stock.Article) { a.LeadDays = 366 },
	} {
		a := good
		change(&a)
		wrongAt(t, a.Check(known), field)
	}
	a := good
	a.Unit = stock.Grams
	wrongAt(t, a.Check(known), "/unit")
	a = stock.Article{Name: "Salt", Key: "sodium-chloride", Unit: stock.Millilitres}
	wrongAt(t, a.Check(known), "/unit")
	for _, edge := range []stock.Article{
		{Name: strings.Repeat("n", 120), Unit: stock.Grams, Minimum: 0, LeadDays: 0},
		{Name: "n", Unit: stock.Pieces, Minimum: stock.MostHeld, LeadDays: 365},
	} {
		if err := edge.Check(known); err != nil {
			t.Errorf("at the edge: %v", err)
		}
	}
	wrongAt(t, stock.Article{Name: strings.Repeat("n", 121), Unit: stock.Grams}.Check(known), "/name")
	wrongAt(t, stock.Article{Name: "n", Unit: stock.Grams, Minimum: stock.MostHeld + 1}.Check(known), "/minimum")
	wrongAt(t, stock.Article{Name: "n", Unit: stock.Grams, LeadDays: -1}.Check(known), "/leadDays")
	if err := (stock.Container{Place: strings.Repeat("p", 80)}).Check(); err != nil {
		t.Error(err)
	}
	if err := (stock.Container{Opened: "2026-12-01", Expires: "2028-02-29", Place: "cupboard 3"}).Check(); err != nil {
		t.Error(err)
	}
	wrongAt(t, stock.Container{Opened: "1 December"}.Check(), "/opened")
	wrongAt(t, stock.Container{Expires: "2027-02-29"}.Check(), "/expires")
	wrongAt(t, stock.Container{Place: strings.Repeat("x", 81)}.Check(), "/place")
}

func wrongAt(t *testing.T, err error, field string) {
	t.Helper()
	var p verdict.Problems
	if !errors.As(err, &p) || len(p) != 1 || p[0].Field != field {
		t.Errorf("%v, want one problem at %s", err, field)
	}
}

func BenchmarkStands(b *testing.B) {
	a := stock.Article{Name: "Sodium chloride", Unit: stock.Grams, Minimum: 100, LeadDays: 3}
	jars := make([]stock.Container, 10)
	demands := make([]stock.Demand, 20)
	for i := range jars {
		jars[i] = stock.Container{Number: int64(i), Left: 100}
	}
	for i := range demands {
		demands[i] = stock.Demand{Title: "Salt", At: at("2026-12-01").AddDate(0, 0, i), Amount: 40}
	}
	for b.Loop() {
		a.Stands(jars, demands, at("2026-12-01"))
	}
}
