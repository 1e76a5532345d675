package httpapi_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/google/uuid"

	"vialbench/demo"
)

// A class of a session to come, with a titration of the demo lab as its task.
type class struct {
	t               *testing.T
	url             string
	instructor      *person
	session, task   string
	plan            object
	codes           []string
	stranger, group *person
}

func openedClass(t *testing.T, more object) *class {
	t.Helper()
	db := demoRecords(t)
	c := &class{t: t, url: newServer(t, db), session: uuid.NewString(), task: uuid.NewString()}
	c.instructor, c.stranger, c.group = newPerson(t, c.url), newPerson(t, c.url), newPerson(t, c.url)
	c.instructor.must(200, "POST", "/session", object{"login": "ashdown", "password": demo.Password})
	c.instructor.must(200, "POST", "/lab-sessions", object{"id": c.session, "session": hardness("Hardness of the pond"), "version": 0})
	_, bottles := c.instructor.do("GET", "/bottles", nil)
	base := ""
	for _, b := range bottles["items"].([]any) {
		if strings.HasPrefix(fmt.Sprint(b.(object)["name"]), "Sodium hydroxide") {
			base = b.(object)["id"].(string)
		}
	}
	c.plan = c.instructor.must(201, "POST", "/plans", object{"id": uuid.NewString(), "kind": "titration", "question": object{
		"reaction": "strong-acid-by-base", "standardise": false, "titrantBottle": base, "name": "Pond acid", "by": "pipette", "volume": 20,
		"burette": 50, "celsius": 20, "diluted": 10,
	}})
	asked := object{"id": c.task, "plan": c.plan["id"], "unit": "mol/L", "title": "Hardness"}
	for k, v := range more {
		asked[k] = v
	}
	c.instructor.must(200, "POST", "/lab-sessions/"+c.session+"/class/tasks", asked)
	view := c.instructor.must(200, "POST", "/lab-sessions/"+c.session+"/class/groups", nil)
	for _, g := range view["groups"].([]any) {
		c.codes = append(c.codes, g.(object)["code"].(string))
	}
	return c
}

// titrates carries a run of the task out, from readings of the burette.
func (c *class) titrates(who *person, readings ...[2]string) string {
	c.t.Helper()
	run := who.must(200, "POST", "/class/tasks/"+c.task+"/run", object{"id": uuid.NewString()})
	id := run["summary"].(object)["id"].(string)
	state := func(f object) {
		f["id"] = uuid.NewString()
		who.must(200, "POST", "/runs/"+id+"/facts", f)
	}
	state(object{"kind": "burette-ready", "choice": "rinsed-3"})
	for i, r := range readings {
		state(object{"kind": "sample", "part": i, "choice": "delivered"})
		state(object{"kind": "start", "part": i, "quantity": object{"text": r[0] + " mL"}})
		state(object{"kind": "read", "part": i, "quantity": object{"text": r[1] + " mL"}})
		state(object{"kind": "decided", "part": i, "choice": "end-point"})
	}
	return id
}

// A group opens its sheet by its code, works by the run sheet, hands in what it worked out, and sees nothing else; what it
// found is compared and traced.
func TestAGroupAtItsSheet(t *testing.T) {
	c := openedClass(t, object{"held": "0.002 ± 0.00001 mol/L"})
	if len(c.codes) != 12 {
		t.Fatalf("%d codes", len(c.codes))
	}
	for _, code := range c.codes {
		if len(code) != 6 || strings.ContainsAny(code, "0O1IL2Z5S8B") {
			t.Errorf("code %s is not easy to say", code)
		}
	}
	c.stranger.must(404, "POST", "/class/sign-in", object{"code": "AAAAAA"})
	c.stranger.must(401, "GET", "/class/sheet", nil)
	// Read out with a space, in small letters.
	c.group.must(200, "POST", "/class/sign-in", object{"code": strings.ToLower(c.codes[2][:3] + " " + c.codes[2][3:])})
	sheet := c.group.must(200, "GET", "/class/sheet", nil)
	if sheet["number"] != 3.0 || sheet["name"] != "Group 3" || sheet["tasks"].([]any)[0].(object)["state"] != "none" {
		t.Fatalf("%v", sheet)
	}
	run := c.titrates(c.group, [2]string{"0.35", "21.10"}, [2]string{"0.20", "20.32"}, [2]string{"0.10", "20.24"})
	// Two devices of one group go on with one run.
	other := newPerson(t, c.url)
	other.must(200, "POST", "/class/sign-in", object{"code": c.codes[2]})
	again := other.must(200, "POST", "/class/tasks/"+c.task+"/run", object{"id": uuid.NewString()})
	if again["summary"].(object)["id"] != run {
		t.Errorf("a second device began another run")
	}
	// Before it handed in, nothing that is computed is shown.
	seen := c.group.must(200, "GET", "/runs/"+run, nil)
	if figures := seen["outcome"].(object)["figures"]; figures != nil && len(figures.([]any)) > 0 {
		t.Errorf("shown before it was handed in: %v", figures)
	}
	for _, want := range []string{"Trial 1: burette at 0.35 mL; stopped at 21.10 mL", "Trial 2: burette at 0.20 mL; stopped at 20.32 mL"} {
		if text := fmt.Sprint(seen["outcome"]); !strings.Contains(text, want) || strings.Contains(text, "20.75 mL") {
			t.Errorf("a trial is folded to something else than “%s”: %s", want, text)
		}
	}
	if !strings.Contains(fmt.Sprint(seen["hides"]), "figures:true") || strings.Contains(fmt.Sprint(seen["hides"]), "verdicts") {
		t.Errorf("hidden: %v", seen["hides"])
	}
	c.group.must(403, "GET", "/runs/"+run+"/working?figure=c", nil)
	if problem := c.group.must(422, "POST", "/class/tasks/"+c.task+"/hand-ins", object{"id": uuid.NewString(), "stated": "200 mg"}); !strings.Contains(pointers(problem), "/stated") {
		t.Errorf("%v", problem)
	}
	// The instructor sees the figures; half of what they give is what a dilution factor of two would make.
	whole := c.instructor.must(200, "GET", "/runs/"+run, nil)
	found := whole["outcome"].(object)["figures"].([]any)[0].(object)["value"].(float64) * 10 // undiluted
	stated := fmt.Sprintf("%.4g mol/L", 1000*found)
	handed := uuid.NewString()
	for range 2 { // sent twice
		c.group.must(200, "POST", "/class/tasks/"+c.task+"/hand-ins", object{"id": handed, "stated": stated, "note": "by the formula"})
	}
	c.group.must(409, "POST", "/class/tasks/"+c.task+"/hand-ins", object{"id": handed, "stated": "0.5 mol/L"})
	sheet = c.group.must(200, "GET", "/class/sheet", nil)
	task := sheet["tasks"].([]any)[0].(object)
	if task["state"] != "handed" || task["stated"] != stated || !strings.Contains(task["calculated"].(string), "mol/L") {
		t.Errorf("%v", task)
	}
	if seen = c.group.must(200, "GET", "/runs/"+run, nil); len(seen["outcome"].(object)["figures"].([]any)) == 0 {
		t.Errorf("nothing is shown after it was handed in")
	}
	results := c.instructor.must(200, "GET", "/class-tasks/"+c.task+"/results", nil)
	one := results["results"].([]any)[0].(object)
	traced := one["traced"].(object)
	first := traced["working"].([]any)[0].(object)
	if traced["follows"] != false || traced["workingNamed"] != true || math.Abs(traced["calculated"].(float64)/found-1) > 1e-6 ||
		!strings.Contains(fmt.Sprint(first["sentence"], first["alike"]), "1000") {
		t.Errorf("%v", traced)
	}
	// Begun once more afterwards, the result is still that of the first try.
	c.group.must(200, "POST", "/runs/"+run+"/facts", object{"id": uuid.NewString(), "kind": "decided", "choice": "enough", "part": 3})
	second := c.group.must(200, "POST", "/class/tasks/"+c.task+"/run", object{"id": uuid.NewString()})["summary"].(object)["id"]
	results = c.instructor.must(200, "GET", "/class-tasks/"+c.task+"/results", nil)
	if one := results["results"].([]any)[0].(object); second == run || one["run"] != run || one["traced"].(object)["workingNamed"] != true {
		t.Errorf("begun again as %v: %v", second, one)
	}
	// What is confirmed is on record, and teaches the prior.
	slip := first["slips"].([]any)[0].(string)
	c.instructor.must(204, "POST", "/hand-ins/"+handed+"/judgements", object{"id": uuid.NewString(), "slip": slip, "confirmed": true})
	c.instructor.must(422, "POST", "/hand-ins/"+handed+"/judgements", object{"id": uuid.NewString(), "slip": "witchcraft", "confirmed": true})
	results = c.instructor.must(200, "GET", "/class-tasks/"+c.task+"/results", nil)
	if judged := results["results"].([]any)[0].(object)["judged"].(object); judged[slip] != true {
		t.Errorf("%v", judged)
	}
	view := c.instructor.must(200, "GET", "/lab-sessions/"+c.session+"/class", nil)
	for _, x := range view["cells"].([]any) {
		cell := x.(object)
		if cell["state"] == "handed" && cell["odd"] != "not what its figures give" {
			t.Errorf("%v", cell)
		}
	}
	// A word to all and one to this group; what is said to another one stays there.
	groups := c.instructor.must(200, "GET", "/lab-sessions/"+c.session+"/class", nil)["groups"].([]any)
	for _, w := range []object{
		{"said": "Ten minutes more"}, {"said": "Look at your factor", "group": groups[2].(object)["id"]}, {"said": "Not yours", "group": groups[3].(object)["id"]},
	} {
		w["id"] = uuid.NewString()
		c.instructor.must(204, "POST", "/lab-sessions/"+c.session+"/class/words", w)
	}
	c.instructor.must(422, "POST", "/lab-sessions/"+c.session+"/class/words", object{"id": uuid.NewString(), "said": "  "})
	if words := fmt.Sprint(c.group.must(200, "GET", "/class/sheet", nil)["words"]); !strings.Contains(words, "Ten minutes more") ||
		!strings.Contains(words, "Look at your factor") || strings.Contains(words, "Not yours") {
		t.Errorf("%s", words)
	}
	// A hand that is raised stands in the grid until somebody helped.
	c.group.must(200, "PUT", "/class/hand", object{"raised": true})
	view = c.instructor.must(200, "GET", "/lab-sessions/"+c.session+"/class", nil)
	third := view["groups"].([]any)[2].(object)
	if third["hand"] == nil {
		t.Errorf("%v", third)
	}
	c.instructor.must(204, "DELETE", "/class-groups/"+third["id"].(string)+"/hand", nil)
	if sheet = c.group.must(200, "GET", "/class/sheet", nil); sheet["raised"] != false {
		t.Errorf("%v", sheet)
	}
}

// A group is shown its own, and can change nothing else, however it asks.
func TestAGroupSeesItsOwnAlone(t *testing.T) {
	c := openedClass(t, nil)
	c.group.must(200, "POST", "/class/sign-in", object{"code": c.codes[0]})
	other := newPerson(t, c.url)
	other.must(200, "POST", "/class/sign-in", object{"code": c.codes[1]})
	run := c.titrates(c.group, [2]string{"0.35", "21.10"})
	other.must(404, "GET", "/runs/"+run, nil)
	other.must(404, "POST", "/runs/"+run+"/facts", object{"id": uuid.NewString(), "kind": "note", "text": "not ours"})
	other.must(404, "GET", "/runs/"+run+"/working?figure=c", nil)
	other.must(404, "GET", "/runs/"+run+"/plan", nil)
	for _, x := range []struct{ method, path string }{
		{"GET", "/bottles"},
		{"GET", "/people"},
		{"GET", "/today"},
		{"GET", "/runs"},
		{"GET", "/logbook"},
		{"GET", "/export"},
		{"GET", "/lab-sessions/" + c.session + "/class"},
		{"GET", "/class-tasks/" + c.task + "/results"},
		{"POST", "/lab-sessions/" + c.session + "/class/groups"},
		{"DELETE", "/class-tasks/" + c.task},
		{"GET", "/runs/" + run + "/report.pdf"},
		{"GET", "/plans"},
	} {
		if status, _ := c.group.do(x.method, x.path, nil); status != 403 {
			t.Errorf("%s %s: %d", x.method, x.path, status)
		}
	}
	// What a class finds leaves the shelf, the lists and the people of the lab alone.
	runs := fmt.Sprint(c.instructor.must(200, "GET", "/runs?status=open", nil))
	_, people := c.instructor.do("GET", "/people", nil)
	if strings.Contains(runs, run) || strings.Contains(fmt.Sprint(people), "Group 1") {
		t.Errorf("a group stands among the people or the open runs of the lab")
	}
	// A task of another session is none of theirs.
	c.group.must(404, "POST", "/class/tasks/"+uuid.NewString()+"/run", object{"id": uuid.NewString()})
}

// Codes that are guessed: whoever tries many has to wait, and whoever has one gets in all the same after that.
func TestGuessingCodesIsSlow(t *testing.T) {
	c := openedClass(t, nil)
	refused := 0
	for i := range 40 {
		status, _ := c.stranger.do("POST", "/class/sign-in", object{"code": fmt.Sprintf("CCCC%02d", i)})
		switch status {
		case 429:
			refused++
		case 404:
		default:
			t.Fatalf("try %d: %d", i, status)
		}
	}
	if refused < 30 {
		t.Errorf("%d of 40 tries had to wait", refused)
	}
}

// On paper: results by the numbers of the groups, all of them or none; then the class as a table and a sheet for each.
func TestResultsOnPaper(t *testing.T) {
	c := openedClass(t, object{"held": "0.002 mol/L"})
	enter := func(status int, list ...any) object {
		return c.instructor.must(status, "POST", "/class-tasks/"+c.task+"/results", object{"results": list})
	}
	problem := enter(422, object{"group": 1, "stated": "0.00201"}, object{"group": 40, "stated": "0.002"}, object{"group": 2, "stated": "two"})
	if got := pointers(problem); !strings.Contains(got, "/results/1/group") || !strings.Contains(got, "/results/2/stated") {
		t.Errorf("%s", got)
	}
	if results := c.instructor.must(200, "GET", "/class-tasks/"+c.task+"/results", nil)["results"].([]any); len(results) != 0 {
		t.Errorf("kept in part: %v", results)
	}
	var list []any
	for i, x := range []string{"0.00201", "0.00199", "2.00 mmol/L", "0.00202", "0.020", "0.001995"} {
		list = append(list, object{"group": i + 1, "stated": x})
	}
	results := enter(200, list...)
	compared := results["compared"].(object)
	if compared["of"] != "results" || math.Abs(compared["median"].(float64)-0.002005) > 1e-5 {
		t.Errorf("%v", compared)
	}
	fifth := results["results"].([]any)[4].(object)
	if row := fifth["row"].(object); row["off"] != true || math.Abs(row["error"].(float64)-900) > 1e-6 {
		t.Errorf("%v", fifth)
	}
	if cause := fifth["traced"].(object)["working"].([]any)[0].(object); cause["slips"].([]any)[0] != "decimal point" {
		t.Errorf("%v", cause)
	}
	_, workbook := c.instructor.do("GET", "/class-tasks/"+c.task+"/results.xlsx", nil)
	tabs := readWorkbook(t, workbook["text"].(string))
	lines := strings.Split(tabs["Results"], "\n")
	if len(lines) < 7 || !strings.HasPrefix(lines[3], "Group 3|2.00 mmol/L|0.002|") || !strings.Contains(lines[5], "|900") ||
		!strings.Contains(lines[5], "decimal point") || !strings.HasPrefix(tabs["Class"], "of the results|value|unit\nmean|") {
		t.Errorf("%v", tabs)
	}
	status, pdf := c.instructor.do("GET", "/class-tasks/"+c.task+"/feedback.pdf", nil)
	text := pdfText(t, pdf["text"].(string))
	if status != 200 || !strings.Contains(text, "Hardness: group 5") || !strings.Contains(text, "About how large should it be?") || strings.Contains(text, "decimal point") {
		t.Errorf("%d %s", status, text)
	}
}

// A result is asked for in what is counted, and is handed in with it or without.
func TestResultsInWhatIsCounted(t *testing.T) {
	c := openedClass(t, object{"unit": "mg/L P", "held": "0.25 ± 0.01 mg/L"})
	results := c.instructor.must(200, "POST", "/class-tasks/"+c.task+"/results", object{"results": []any{
		object{"group": 1, "stated": "0.26 mg/L P"}, object{"group": 2, "stated": "0.24"}, object{"group": 3, "stated": "250 µg/L"},
	}})
	for i, want := range []float64{0.26, 0.24, 0.25} {
		if got := results["results"].([]any)[i].(object)["value"].(float64); math.Abs(got-want) > 1e-12 {
			t.Errorf("group %d: %g, want %g", i+1, got, want)
		}
	}
	if knows := results["task"].(object)["knows"]; knows != "0.250 ± 0.010 mg/L P" {
		t.Errorf("%v", knows)
	}
}

// Of unknowns the true values stay locked until somebody opens the key, on record.
func TestResultsStayLockedUntilTheKeyIsOpened(t *testing.T) {
	c := openedClass(t, nil)
	set := uuid.NewString()
	c.instructor.must(200, "POST", "/lab-sessions/"+c.session+"/unknowns", object{
		"id": set, "name": "Hardness", "stock": "0.1 mol/L", "low": "0.001 mol/L", "high": "0.01 mol/L", "each": "60 mL", "within": 2,
	})
	task := uuid.NewString()
	ask := object{"id": task, "plan": c.plan["id"], "unit": "mol/L", "title": "Unknown hardness", "unknowns": set}
	view := c.instructor.must(200, "POST", "/lab-sessions/"+c.session+"/class/tasks", ask)
	if locked := view["tasks"].([]any)[1].(object); locked["locked"] != true || locked["knows"] != "each group its own: Hardness" {
		t.Errorf("%v", locked)
	}
	results := c.instructor.must(200, "POST", "/class-tasks/"+task+"/results", object{"results": []any{
		object{"group": 1, "stated": "0.0009"}, object{"group": 2, "stated": "0.006"}, object{"group": 3, "stated": "0.004"},
	}})
	if fmt.Sprint(results["compared"]) != "<nil>" || strings.Contains(fmt.Sprint(results), "held") {
		t.Errorf("told while locked: %v", results)
	}
	key := c.instructor.must(200, "POST", "/unknowns/"+set+"/openings", object{"what": "key", "reason": "results are in"})
	results = c.instructor.must(200, "GET", "/class-tasks/"+task+"/results", nil)
	first := results["results"].([]any)[0].(object)
	told := fmt.Sprintf("%.4g mol/L", first["held"])
	if key["groups"].([]any)[0].(object)["strength"] != told || results["compared"].(object)["of"] != "percent errors" {
		t.Errorf("group 1 holds %v, told %s", key["groups"].([]any)[0], told)
	}
	// What pipette and flask leave open of an unknown counts beside the 2 % of the method: less than 1 % of what it holds.
	// Strengths are drawn again each time, from 0.001 mol/L up: what group 1 states is below them all, so it never holds just that.
	held, En := first["held"].(float64), first["row"].(object)["En"].(float64)
	const stated, allowed = 0.0009, 0.02 * 0.0009
	alone := (stated - held) / allowed
	if ratio := En / alone; !(ratio < 0.9999 && ratio > 1/math.Hypot(1, 0.01*held/allowed)) {
		t.Errorf("E_n %g of %g without it", En, alone)
	}
	c.instructor.must(422, "POST", "/lab-sessions/"+c.session+"/class/tasks", object{"id": uuid.NewString(), "plan": c.plan["id"], "unit": "g/L", "unknowns": set})
}

// Codes stand on the cards of the groups, and open nothing once the session is over.
func TestCodesOnCardsAndAfterwards(t *testing.T) {
	c := openedClass(t, nil)
	_, pdf := c.instructor.do("GET", "/lab-sessions/"+c.session+"/cards.pdf", nil)
	if text := pdfText(t, pdf["text"].(string)); !strings.Contains(text, c.codes[11][:3]+" "+c.codes[11][3:]) {
		t.Errorf("the code of group 12 is missing on its card")
	}
}
