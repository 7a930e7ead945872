package api_test

import (
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(o *office) []endpoint {
		return []endpoint{{"POST", "/remembered", "", contract.Recall{Items: []uuid.UUID{o.plan}}, paper(access.Share)}}
	})
}

// What was given before is offered as it would be today, to whoever gave it and to
// nobody else; what the practice forbids meanwhile is not.
func TestTermsAreRemembered(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	w.Appoint("hanne", "administrator")
	report, scan := w.paper("report.txt", "one"), w.paper("scan.txt", "two")
	recall := func(c *testkit.Client, of ...uuid.UUID) []contract.Remembered {
		t.Helper()
		return testkit.Post[[]contract.Remembered](c, 200, "/api/remembered", contract.Recall{Items: of})
	}
	until := w.Now().Add(3 * 24 * time.Hour).Truncate(time.Second)
	stated := contract.IdentityStated
	l, _ := w.link(contract.LinkTerms{Items: []uuid.UUID{report}, Until: &until, Openings: ptr(1), Password: ptr("tide-harbour-9"), Slug: ptr("corran-report")})
	w.luca.Want(202, "POST", "/api/links/"+l.Id.String()+"/mail", contract.LinkMail{To: []string{"sunniva.aker@dunlin.example", "callum@rival.example"}})
	w.link(contract.LinkTerms{Items: []uuid.UUID{report}, Until: &until, Openings: ptr(1), Password: ptr("other-harbour-9")})
	w.link(contract.LinkTerms{Items: []uuid.UUID{report}, Until: &until, Identify: &stated})
	w.link(contract.LinkTerms{Items: []uuid.UUID{report}})
	w.link(contract.LinkTerms{Items: []uuid.UUID{w.top}, Kind: ptr(contract.LinkKindIntake)})
	w.luca.Want(204, "POST", "/api/links/"+l.Id.String()+"/end", nil)

	got := recall(w.luca, scan)
	if len(got) != 3 {
		t.Fatalf("%d are remembered", len(got))
	}
	// Latest first: after stating who they are; once, with a password; the same to two people.
	once, sent := got[1], got[2]
	if *got[0].Identify != stated || got[0].HasPassword || len(got[0].To) != 0 || !got[0].Until.Equal(until) {
		t.Errorf("%+v", got[0])
	}
	if !once.HasPassword || *once.Openings != 1 || once.Slug != nil || len(once.To) != 0 {
		t.Errorf("%+v", once)
	}
	if strings.Join(sent.To, " ") != "callum@rival.example sunniva.aker@dunlin.example" || *sent.Times != 1 || sent.Slug != nil {
		t.Errorf("%+v", sent)
	}
	said := ""
	for _, p := range sent.Sentence {
		said += p.Text
	}
	if !strings.Contains(said, "and the password") || !strings.Contains(said, "1 file") || !strings.Contains(said, "at most once") {
		t.Errorf("it reads %q", said)
	}
	// A link that takes papers in is remembered for a folder, not for a document.
	kinds := ""
	for _, r := range recall(w.luca, w.top) {
		kinds += string(r.Kind) + " "
	}
	if !strings.Contains(kinds, "intake") {
		t.Errorf("for a folder there are %s", kinds)
	}
	for _, r := range testkit.Post[[]contract.Remembered](w.luca, 200, "/api/remembered", contract.Recall{Items: []uuid.UUID{w.top}, Kind: ptr(contract.LinkKindIntake)}) {
		if r.Kind != contract.LinkKindIntake {
			t.Errorf("among those that take papers in is a %s", r.Kind)
		}
	}
	if all := recall(w.hanne, scan); len(all) != 0 {
		t.Errorf("Hanne is told what Luca gave: %+v", all)
	}
	w.priya.Want(403, "POST", "/api/remembered", contract.Recall{Items: []uuid.UUID{scan}})
	w.tomasz.Want(404, "POST", "/api/remembered", contract.Recall{Items: []uuid.UUID{scan}})
	w.Visitor().Want(401, "POST", "/api/remembered", contract.Recall{Items: []uuid.UUID{scan}})
	w.luca.Want(400, "POST", "/api/remembered", contract.Recall{})
	w.luca.Want(404, "POST", "/api/remembered", contract.Recall{Items: []uuid.UUID{uuid.New()}})

	w.hanne.Want(204, "PUT", "/api/practice/rules", contract.Rules{Sensitive: "off", Patterns: []contract.Pattern{}, LongestLinkDays: 90,
		Outward: &contract.OutwardRules{Required: contract.OutwardRulesRequiredPassword, Kinds: []contract.LinkKind{contract.LinkKindHandOut}, Shut: []string{"rival.example"}}})
	got = recall(w.luca, scan)
	if len(got) != 2 || !got[0].HasPassword || !got[1].HasPassword || strings.Join(got[1].To, " ") != "sunniva.aker@dunlin.example" {
		t.Errorf("against the practice's rules there are %+v", got)
	}
}

// Terms to which the practice gave a name are offered to everybody who gives something
// out, and are typed by it; only administrators name them.
func TestNamedTerms(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	w.Appoint("hanne", "administrator")
	report := w.paper("report.txt", "one")
	rules := func(named ...contract.NamedTerms) contract.Rules {
		return contract.Rules{Sensitive: "off", Patterns: []contract.Pattern{}, LongestLinkDays: 90, Named: &named}
	}
	insurers := contract.NamedTerms{Name: "as for insurers", Words: "zwei Wochen, Passwort, without download"}
	w.luca.Want(403, "PUT", "/api/practice/rules", rules(insurers))
	if a := w.hanne.Do("PUT", "/api/practice/rules", rules(contract.NamedTerms{Name: "x", Words: "wonce"})); a.Status != 400 || a.Code() != "own-terms-words" {
		t.Errorf("%+v", a)
	}
	papers := contract.NamedTerms{Name: "papers in", Words: "deposit only"}
	if a := w.hanne.Do("PUT", "/api/practice/rules", rules(papers)); a.Code() != "own-terms-name" {
		t.Errorf("a name that is a term: %+v", a)
	}
	papers.Name = "for clients' papers"
	w.hanne.Want(204, "PUT", "/api/practice/rules", rules(insurers, papers, contract.NamedTerms{Name: "long", Words: "200 days"}))

	recall := func(of uuid.UUID) (names string, all []contract.Remembered) {
		all = testkit.Post[[]contract.Remembered](w.luca, 200, "/api/remembered", contract.Recall{Items: []uuid.UUID{of}})
		for _, r := range all {
			names += *r.Name + ";"
		}
		return names, all
	}
	// Of a document no papers are asked for, and nothing is offered beyond the practice's rules.
	names, all := recall(report)
	if names != "as for insurers;" || !all[0].HasPassword || !*all[0].ViewOnly || all[0].At != nil || all[0].Until == nil || len(all[0].To) != 0 {
		t.Errorf("%s: %+v", names, all)
	}
	if names, _ := recall(w.top); names != "as for insurers;for clients' papers;" {
		t.Errorf("for a folder there are %s", names)
	}
	typed := testkit.Post[contract.TypedTerms](w.luca, 200, "/api/terms/read", contract.TypedText{Text: "As for insurers, once"})
	if !typed.Understood || !typed.HasPassword || typed.ViewOnly == nil || *typed.Openings != 1 {
		t.Errorf("%+v", typed)
	}
	// Without them in the rules there are none.
	w.hanne.Want(204, "PUT", "/api/practice/rules", contract.Rules{Sensitive: "off", Patterns: []contract.Pattern{}, LongestLinkDays: 90})
	if names, _ := recall(report); names != "" {
		t.Errorf("there is still %s", names)
	}
}
