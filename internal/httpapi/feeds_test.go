package httpapi_test

import (
	"strings"
	"testing"

	"vialbench/demo"
)

// A private address is read without a session by whoever has it, until it is withdrawn or its account is closed.
func TestCalendarFeeds(t *testing.T) {
	db := demoRecords(t)
	url := newServer(t, db)
	ra, it, stranger := newPerson(t, url), newPerson(t, url), newPerson(t, url)
	ra.must(200, "POST", "/session", object{"login": "ashdown", "password": demo.Password})
	who := it.must(200, "POST", "/session", object{"login": "thorne", "password": demo.Password})
	made := it.must(201, "POST", "/calendar-feeds", nil)
	path := strings.TrimPrefix(made["path"].(string), "/api/v1")
	status, calendar := stranger.do("GET", path, nil)
	text, _ := calendar["text"].(string)
	if status != 200 || !strings.HasPrefix(text, "BEGIN:VCALENDAR") || !strings.Contains(text, "SUMMARY:Hardness of pond water") {
		t.Fatalf("%d %s", status, text)
	}
	if _, file := it.do("GET", "/lab-sessions/calendar.ics", nil); strings.Count(file["text"].(string), "BEGIN:VEVENT") != strings.Count(text, "BEGIN:VEVENT") {
		t.Error("the file has other entries than the feed")
	}
	// Only its maker sees it and withdraws it; the address itself is told once.
	if _, list := ra.do("GET", "/calendar-feeds", nil); len(list["list"].([]any)) != 0 {
		t.Errorf("somebody else sees %v", list)
	}
	ra.must(404, "DELETE", "/calendar-feeds/"+made["id"].(string), nil)
	_, list := it.do("GET", "/calendar-feeds", nil)
	if feeds := list["list"].([]any); len(feeds) != 1 || feeds[0].(object)["path"] != nil {
		t.Errorf("%v", feeds)
	}
	it.must(204, "DELETE", "/calendar-feeds/"+made["id"].(string), nil)
	it.must(404, "DELETE", "/calendar-feeds/"+made["id"].(string), nil)
	if status, _ := stranger.do("GET", path, nil); status != 404 {
		t.Errorf("withdrawn: %d", status)
	}
	for address, want := range map[string]int{
		"/calendar/" + strings.Repeat("A", 52) + "/sessions.ics":    404,
		"/calendar/short/sessions.ics":                              400,
		"/calendar/" + strings.Repeat("A", 51) + "%27/sessions.ics": 400,
		"/calendar-feeds": 401,
	} {
		if status, _ := stranger.do("GET", address, nil); status != want {
			t.Errorf("%s: %d, want %d", address, status, want)
		}
	}
	for range 10 {
		it.must(201, "POST", "/calendar-feeds", nil)
	}
	it.must(409, "POST", "/calendar-feeds", nil)
	_, list = it.do("GET", "/calendar-feeds", nil)
	it.must(204, "DELETE", "/calendar-feeds/"+list["list"].([]any)[0].(object)["id"].(string), nil)
	open := strings.TrimPrefix(it.must(201, "POST", "/calendar-feeds", nil)["path"].(string), "/api/v1")
	if status, _ := stranger.do("GET", open, nil); status != 200 {
		t.Errorf("another one: %d", status)
	}
	ra.must(200, "PATCH", "/people/"+who["id"].(string), object{"active": false})
	if status, _ := stranger.do("GET", open, nil); status != 404 {
		t.Errorf("of a closed account: %d", status)
	}
}
