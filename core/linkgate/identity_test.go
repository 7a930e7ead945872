package linkgate

import (
	"slices"
	"strings"
	"testing"

	"tabularis/core/fault"
)

func TestAllowed(t *testing.T) {
	got, err := Allowed("allowed", []string{" Sunniva.Aker@Dunlin.example ", "@brackwater.example", "BRACKWATER.example", "sub.pelham-dock.example"})
	if want := []string{"sunniva.aker@dunlin.example", "brackwater.example", "sub.pelham-dock.example"}; err != nil || !slices.Equal(got, want) {
		t.Errorf("%v %v", got, err)
	}
	for _, bad := range []string{"", "dunlin", "@", "a@", "a b@dunlin.example", "a@b@dunlin.example", "dunlin.example.", ".example", "-x.example", "dunlin_.example", "a\n@dunlin.example", "a\u202e@dunlin.example", "*.example.com", strings.Repeat("a", 65) + "@dunlin.example", strings.Repeat("a.", 200) + "example"} {
		if got, err := Allowed("allowed", []string{bad}); !fault.Is(err, fault.Invalid) {
			t.Errorf("%q is taken for %v", bad, got)
		}
	}
	if _, err := Allowed("allowed", make([]string, maxAllowed+1)); !fault.Is(err, fault.Invalid) {
		t.Error("any number is taken")
	}
}

func TestAdmits(t *testing.T) {
	list := []string{"odile@brackwater.example", "dunlin.example"}
	for email, want := range map[string]bool{
		"odile@brackwater.example": true, "ODILE@Brackwater.Example ": true, "bram@brackwater.example": false, "sunniva@dunlin.example": true,
		"x@sub.dunlin.example": false, "x@notdunlin.example": false, "dunlin.example": false, "": false, "@dunlin.example": false,
	} {
		if Admits(list, email) != want {
			t.Errorf("%q: %v", email, !want)
		}
	}
	if !Admits(nil, "") {
		t.Error("without a list somebody is kept out")
	}
}

func FuzzAllowed(f *testing.F) {
	for _, s := range []string{"a@b.example", "@b.example", "b.example", "a b", "\u202e@x.example"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		list, err := Allowed("allowed", []string{s})
		if err != nil {
			return
		}
		again, err := Allowed("allowed", list)
		if err != nil || !slices.Equal(again, list) {
			t.Errorf("%q became %q, and that %q, %v", s, list, again, err)
		}
		if strings.ContainsAny(list[0], " \r\n,;<>") {
			t.Errorf("%q became %q", s, list)
		}
		if strings.Contains(list[0], "@") && !Admits(list, list[0]) {
			t.Errorf("%q does not admit itself", list)
		}
	})
}

// Who has to be known is let in only as surely known as asked, and from the
// list; the password comes first, so that the list is not told to strangers.
func TestOpeningByIdentity(t *testing.T) {
	for _, c := range []struct {
		identify Identity
		allowed  []string
		known    Identity
		email    string
		password Password
		want     Reason
	}{
		{Anyone, nil, Anyone, "", PasswordRight, None},
		{Stated, nil, Anyone, "", PasswordRight, NeedsIdentity},
		{Stated, nil, Stated, "a@dunlin.example", PasswordRight, None},
		{Confirmed, nil, Stated, "a@dunlin.example", PasswordRight, NeedsIdentity},
		{Confirmed, nil, Confirmed, "a@dunlin.example", PasswordRight, None},
		{Confirmed, nil, SignedIn, "a@dunlin.example", PasswordRight, None},
		{SignedIn, nil, Confirmed, "a@dunlin.example", PasswordRight, NeedsIdentity},
		{Stated, []string{"dunlin.example"}, Stated, "a@dunlin.example", PasswordRight, None},
		{Stated, []string{"dunlin.example"}, Stated, "a@other.example", PasswordRight, AddressNotAllowed},
		{Confirmed, []string{"dunlin.example"}, SignedIn, "a@other.example", PasswordRight, AddressNotAllowed},
		{Stated, []string{"dunlin.example"}, Stated, "a@other.example", PasswordWrong, WrongPassword},
		{Confirmed, nil, Anyone, "", PasswordAbsent, NeedsPassword},
	} {
		got := Decide(Terms{Password: true, Identify: c.identify, Allowed: c.allowed}, Use{}, Attempt{Act: Open, Password: c.password, Email: c.email, Known: c.known, At: noon})
		if got.Reason != c.want || got.Opens != (c.want == None) {
			t.Errorf("%+v: %+v", c, got)
		}
	}
}
