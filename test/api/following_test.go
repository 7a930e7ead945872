package api_test

import (
	"fmt"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(o *office) []endpoint {
		return []endpoint{
			{"GET", "/following", "", nil, self},
			{"PUT", "/following/{id}", "/following/" + o.plan.String(), contract.FollowingWish{Stance: contract.Follow}, paper(access.See)},
			{"GET", "/digest", "", nil, self},
			{"PUT", "/digest", "", contract.Digest{}, self},
			{"GET", "/activity/filters", "", nil, self},
			{"POST", "/activity/filters", "", contract.NewFilter{Name: "outside", Filter: usual()}, self},
		}
	})
	apart["DELETE /activity/filters/{id}"] = "one's own alone: TestFiltersUnderAName"
}

// usual is the filter that leaves everything in.
func usual() contract.ActivityFilter {
	return contract.ActivityFilter{About: contract.Everything, Heed: contract.ActivityHeedUnmuted, Since: contract.ActivityFilterSinceAlways}
}

func (o *office) follows(c *testkit.Client, item uuid.UUID, stance contract.Stance) {
	o.T.Helper()
	c.Want(204, "PUT", "/api/following/"+item.String(), contract.FollowingWish{Stance: stance})
}

func (o *office) duty(name string) {
	o.T.Helper()
	if err := o.App.Jobs.Do(o.T.Context(), name); err != nil {
		o.T.Fatal(err)
	}
}

// stream lists the names of what the newest events are about.
func (o *office) stream(c *testkit.Client, query string) (names []string) {
	o.T.Helper()
	for _, e := range testkit.Get[contract.Stream](c, "/api/activity?"+query).Events {
		names = append(names, fmt.Sprintf("%s %v", e.Kind, deref(e.ItemName)))
	}
	return names
}

func deref(s *string) string {
	if s == nil {
		return ""
	}
	return *s
}

// What is muted is left out, unless one asks for it; only what is followed can be shown; a
// document counts more than its dossier.
func TestFollowingAndMuting(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	holds := func(query, what string, want bool) {
		t.Helper()
		if got := strings.Contains(strings.Join(o.stream(o.hanne, query), "|"), what); got != want {
			t.Errorf("%q holds %q: %v", query, what, got)
		}
	}
	plan, draft := testkit.Get[contract.Document](o.hanne, "/api/documents/"+o.plan.String()).Name, testkit.Get[contract.Document](o.hanne, "/api/documents/"+o.draft.String()).Name
	holds("", plan, true)
	o.follows(o.hanne, o.top, contract.Mute)
	o.follows(o.hanne, o.plan, contract.Follow)
	holds("", plan, true)
	holds("", draft, false)
	holds("heed=all", draft, true)
	holds("dossier=MER-24", draft, true)
	holds("folder="+o.top.String(), draft, true)
	holds("heed=followed", plan, true)
	holds("heed=followed", draft, false)
	if all := string(o.hanne.Want(200, "GET", "/api/activity.csv?heed=followed", nil).Body); !strings.Contains(all, plan) || strings.Contains(all, draft) {
		t.Errorf("%s", all)
	}
	o.follows(o.hanne, o.top, contract.Follow)
	o.follows(o.hanne, o.plan, contract.Mute)
	holds("heed=followed", plan, false)
	holds("heed=followed", draft, true)
	mine := testkit.Get[[]contract.FollowedThing](o.hanne, "/api/following")
	if len(mine) != 2 || mine[0].Ref != "MER-24" || mine[0].Stance != contract.Follow || mine[0].Path != "/dossiers/MER-24" || mine[1].Stance != contract.Mute || !strings.HasPrefix(mine[1].Path, "/d/MER-24/") {
		t.Errorf("%+v", mine)
	}
	o.follows(o.hanne, o.plan, contract.NoStance)
	o.follows(o.hanne, o.top, contract.NoStance)
	if left := testkit.Get[[]contract.FollowedThing](o.hanne, "/api/following"); len(left) != 0 {
		t.Errorf("%+v", left)
	}
	// Folders are not followed, what one does not see is not there, and nothing is odd.
	if a := o.hanne.Do("PUT", "/api/following/"+o.reports.String(), contract.FollowingWish{Stance: contract.Follow}); a.Code() != "not-followed" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	o.tomasz.Want(404, "PUT", "/api/following/"+o.plan.String(), contract.FollowingWish{Stance: contract.Follow})
	o.tomasz.Want(404, "PUT", "/api/following/"+uuid.New().String(), contract.FollowingWish{Stance: contract.Mute})
	o.hanne.Want(400, "PUT", "/api/following/"+o.plan.String(), map[string]string{"stance": "perhaps"})
	for _, query := range []string{"heed=perhaps", "folder=x", "about=nothing"} {
		o.hanne.Want(400, "GET", "/api/activity?"+query, nil)
		o.hanne.Want(400, "GET", "/api/activity.csv?"+query, nil)
	}
}

// The events of a folder are those of what lies in it now, and in the folders within; of a
// folder one does not see there is nothing, as of none.
func TestActivityOfAFolder(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	inner := testkit.Post[contract.Folder](o.hanne, 201, fmt.Sprintf("/api/folders/%s/folders", o.reports), contract.NewName{Name: "Gauging"}).Id
	deep := o.hanne.Upload(inner, "", "deep.txt", []byte("deep")).Document.Id
	o.hanne.Upload(o.top, "", "beside.txt", []byte("beside"))
	all := func(query string) string { return strings.Join(o.stream(o.hanne, query), "|") }
	in := "folder=" + o.reports.String()
	if got := all(in); !strings.Contains(got, "deep.txt") || strings.Contains(got, "beside.txt") || !strings.Contains(got, "folder.made Gauging") {
		t.Errorf("%s", got)
	}
	if got := all(in + "&kind=document.added&person=" + o.People["hanne"].ID.String()); !strings.Contains(got, "deep.txt") || strings.Contains(got, "folder.made") {
		t.Errorf("%s", got)
	}
	if got := all(in + "&about=outside"); got != "" {
		t.Errorf("%s", got)
	}
	if got := all(in + "&since=" + url.QueryEscape(o.Now().Add(time.Hour).UTC().Format(time.RFC3339))); got != "" {
		t.Errorf("%s", got)
	}
	// What leaves the folder takes its events along.
	if a := o.move(o.hanne, o.top, deep); a.Status != 204 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	if got := all(in); strings.Contains(got, "deep.txt") {
		t.Errorf("%s", got)
	}
	// A closed folder within is not shown to who does not see it, and is nothing by itself.
	o.hanne.Want(204, "PUT", "/api/items/"+inner.String()+"/closed", contract.Closed{Closed: true})
	if got := strings.Join(o.stream(o.priya, in), "|"); strings.Contains(got, "Gauging") {
		t.Errorf("%s", got)
	}
	there, not := o.priya.Do("GET", "/api/activity?folder="+inner.String(), nil), o.priya.Do("GET", "/api/activity?folder="+uuid.New().String(), nil)
	if there.Status != 404 || string(there.Body) != string(not.Body) {
		t.Errorf("%d %s, %d %s", there.Status, there.Body, not.Status, not.Body)
	}
	o.hanne.Want(404, "GET", "/api/activity?folder="+o.plan.String(), nil)
}

// Who follows something is told by notice of what others did with it, once until they
// look, and only as far as they may know of it.
func TestFollowersAreTold(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.follows(o.hanne, o.top, contract.Follow)
	o.follows(o.hanne, o.plan, contract.Follow)
	o.follows(o.priya, o.top, contract.Follow)
	o.Later(2 * time.Minute)
	o.duty("tell who follows")
	told := func(c *testkit.Client) (all []contract.Notice) {
		for _, n := range testkit.Get[[]contract.Notice](c, "/api/notices") {
			if n.Kind == contract.NoticeKindFollowed {
				all = append(all, n)
			}
		}
		return all
	}
	before := len(told(o.hanne))
	o.hanne.Want(204, "PUT", "/api/notices", nil)
	o.priya.Want(204, "PUT", "/api/notices", nil)
	was := len(told(o.priya))
	// What one does oneself is no news; what is closed is none to who does not see it.
	o.luca.Upload(o.reports, "", "from luca.txt", []byte("x"))
	o.luca.Want(204, "PUT", "/api/items/"+o.plan.String()+"/name", contract.NewName{Name: "Plan, renamed.txt"})
	secret := o.hanne.Upload(o.reports, "", "secret.txt", []byte("x")).Document.Id
	o.hanne.Want(204, "PUT", "/api/items/"+secret.String()+"/closed", contract.Closed{Closed: true})
	o.Later(2 * time.Minute)
	// The server may be at it by itself just now; then what it tells comes a moment later.
	waitFor(t, func() bool {
		o.duty("tell who follows")
		return len(told(o.hanne))-before >= 2
	})
	o.duty("tell who follows")
	news := told(o.hanne)[:len(told(o.hanne))-before]
	if len(news) != 2 || news[0].By != "Luca Ferrante" || news[1].By != "Luca Ferrante" {
		t.Fatalf("%+v", news)
	}
	paths := news[0].Path + " " + news[1].Path
	if !strings.Contains(paths, "/dossiers/MER-24") || !strings.Contains(paths, "/d/MER-24/") {
		t.Errorf("%s", paths)
	}
	if all := told(o.priya); len(all) != was+1 || all[0].By != "Luca Ferrante" {
		t.Errorf("%+v", all)
	}
	// More of it takes the place of what was not looked at.
	o.luca.Upload(o.reports, "", "more.txt", []byte("y"))
	o.Later(2 * time.Minute)
	o.duty("tell who follows")
	if all := told(o.hanne); len(all) != before+2 {
		t.Errorf("%+v", all)
	}
	// Who no longer sees it, or has muted it, is told no more.
	o.follows(o.hanne, o.top, contract.Mute)
	o.follows(o.hanne, o.plan, contract.Mute)
	o.hanne.Want(204, "PUT", "/api/notices", nil)
	count := len(told(o.hanne))
	o.luca.Upload(o.reports, "", "even more.txt", []byte("z"))
	o.Later(2 * time.Minute)
	o.duty("tell who follows")
	if all := told(o.hanne); len(all) != count {
		t.Errorf("%+v", all)
	}
}

func (o *office) digests(who string) (all []string) {
	for _, m := range o.Mail.Messages(o.People[who].Email) {
		if strings.Contains(m.Subject, "happened") || strings.Contains(m.Subject, "Vorg") || strings.Contains(m.Subject, "geschehen") {
			all = append(all, m.Subject+"\n"+m.Text)
		}
	}
	return all
}

// A digest tells in the reader's language and by their clock what others did, as far as
// they may know it, once; where nothing happened there is none.
func TestDigests(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	o.hanne.Want(204, "PUT", "/api/me/preferences", contract.Preferences{Language: contract.German, Look: contract.DeviceLook})
	o.hanne.Want(204, "PUT", "/api/digest", contract.Digest{Every: contract.DigestDaily, Zone: "Pacific/Auckland"})
	o.priya.Want(204, "PUT", "/api/digest", contract.Digest{Every: contract.DigestDaily})
	o.luca.Want(204, "PUT", "/api/digest", contract.Digest{Every: contract.DigestDaily, Followed: true})
	if d := testkit.Get[contract.Digest](o.hanne, "/api/digest"); d.Every != contract.DigestDaily || d.Zone != "Pacific/Auckland" || d.Followed {
		t.Errorf("%+v", d)
	}
	for i := range 5 {
		o.luca.Upload(o.reports, "", fmt.Sprintf("reading %d.txt", i), []byte("x"))
	}
	at := o.Now()
	secret := o.luca.Upload(o.reports, "", "zzsecret.txt", []byte("x")).Document.Id
	o.hanne.Want(204, "PUT", "/api/items/"+secret.String()+"/closed", contract.Closed{Closed: true})
	o.Later(25 * time.Hour)
	// Several at once send it once.
	var all sync.WaitGroup
	for range 4 {
		all.Go(func() { o.duty("send digests") })
	}
	all.Wait()
	waitFor(t, func() bool { return len(o.digests("hanne")) > 0 && len(o.digests("priya")) > 0 })
	auckland, err := time.LoadLocation("Pacific/Auckland")
	if err != nil {
		t.Fatal(err)
	}
	clock := at.In(auckland).Format("2.1. 15:")
	if got := o.digests("hanne"); len(got) != 1 || !strings.Contains(got[0], "Der Tag bis") || !strings.Contains(got[0], "Luca Ferrante brachte 6 Dokumente herein") || !strings.Contains(got[0], clock) || !strings.Contains(got[0], "MER-24") {
		t.Errorf("want %s: %s", clock, got)
	}
	if got := o.digests("priya"); len(got) != 1 || !strings.Contains(got[0], "Luca Ferrante added 5 documents") || strings.Contains(got[0], "zzsecret") {
		t.Errorf("%s", got)
	}
	// Luca wants only what he follows: nothing. And the next day nothing happened to anybody.
	o.Later(24 * time.Hour)
	o.duty("send digests")
	var due int
	if err := o.App.DB.Get(&due, `SELECT count(*) FROM people WHERE digest_at < $1 AND digest <> ''`, o.Now().Add(-25*time.Hour)); err != nil || due != 0 {
		t.Errorf("%d were not dealt with, %v", due, err)
	}
	if n := len(o.digests("luca")) + len(o.digests("hanne")) + len(o.digests("priya")); n != 2 {
		t.Errorf("%d digests", n)
	}
	// Who has left gets none; who chooses anew gets nothing from before.
	o.hanne = o.SignIn("hanne")
	o.hanne.Want(204, "PUT", "/api/digest", contract.Digest{})
	o.hanne.Want(204, "PUT", "/api/digest", contract.Digest{Every: contract.DigestWeekly})
	for body, code := range map[*contract.Digest]string{{Zone: "Europe/Nowhere"}: "zone-unknown", {Zone: "../../etc/passwd"}: "zone-unknown", {Zone: "Local"}: "zone-unknown", {Every: "hourly"}: "digest-unknown"} {
		if a := o.hanne.Do("PUT", "/api/digest", body); a.Status != 400 || a.Code() != code {
			t.Errorf("%+v: %d %s", body, a.Status, a.Body)
		}
	}
}

// Filters are kept under a name: one's own, not without bounds.
func TestFiltersUnderAName(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	f := usual()
	f.About, f.Since, f.Dossier = contract.Outside, contract.ActivityFilterSinceWeek, ptr("MER-24")
	kept := testkit.Post[contract.KeptFilter](o.hanne, 201, "/api/activity/filters", contract.NewFilter{Name: " Outside this week ", Filter: f})
	again := testkit.Post[contract.KeptFilter](o.hanne, 201, "/api/activity/filters", contract.NewFilter{Name: "outside THIS week", Filter: usual()})
	all := testkit.Get[[]contract.KeptFilter](o.hanne, "/api/activity/filters")
	if kept.Name != "Outside this week" || kept.Id != again.Id || len(all) != 1 || all[0].Name != "outside THIS week" || all[0].Filter.About != contract.Everything {
		t.Errorf("%+v, %+v, %+v", kept, again, all)
	}
	if others := testkit.Get[[]contract.KeptFilter](o.luca, "/api/activity/filters"); len(others) != 0 {
		t.Errorf("%+v", others)
	}
	o.luca.Want(404, "DELETE", "/api/activity/filters/"+kept.Id.String(), nil)
	for name, code := range map[string]string{"": "name-empty", "  ": "name-empty", "two\nlines": "name-length", strings.Repeat("x", 61): "name-length"} {
		if a := o.hanne.Do("POST", "/api/activity/filters", contract.NewFilter{Name: name, Filter: f}); a.Status != 400 || a.Code() != code {
			t.Errorf("%q: %d %s", name, a.Status, a.Body)
		}
	}
	o.hanne.Want(400, "POST", "/api/activity/filters", map[string]any{"name": "x", "filter": map[string]any{"about": "nothing", "heed": "all", "since": "week"}})
	var wait sync.WaitGroup
	for i := range 60 {
		wait.Go(func() {
			o.hanne.Do("POST", "/api/activity/filters", contract.NewFilter{Name: fmt.Sprint("many ", i), Filter: f})
		})
	}
	wait.Wait()
	if n := len(testkit.Get[[]contract.KeptFilter](o.hanne, "/api/activity/filters")); n != 50 {
		t.Errorf("%d filters are kept", n)
	}
	o.hanne.Want(204, "DELETE", "/api/activity/filters/"+kept.Id.String(), nil)
	o.hanne.Want(404, "DELETE", "/api/activity/filters/"+kept.Id.String(), nil)
}

// A guest is sent what they may know, and no more.
func TestAGuestsDigest(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	id, client := o.account("client", accounts.Guest)
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.plan}, to(id)))
	client.Want(204, "PUT", "/api/digest", contract.Digest{Every: contract.DigestWeekly, Zone: "Europe/Berlin"})
	o.hanne.Upload(o.reports, "", "zzother.txt", []byte("x"))
	o.luca.Want(204, "PUT", "/api/items/"+o.plan.String()+"/name", contract.NewName{Name: "Plan of frames.txt"})
	o.Later(8 * 24 * time.Hour)
	o.duty("send digests")
	waitFor(t, func() bool { return len(o.digests("client")) > 0 })
	if got := o.digests("client"); len(got) != 1 || !strings.Contains(got[0], "The week up to") || !strings.Contains(got[0], "Plan of frames") || strings.Contains(got[0], "zzother") {
		t.Errorf("%s", got)
	}
}
