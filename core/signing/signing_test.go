package signing

import (
	"encoding/json"
	"math"
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
)

var noon = time.Date(2026, 11, 30, 12, 0, 0, 0, time.UTC)

func plan() Plan {
	box := func(y float64) Box { return Box{0.1, y, 0.3, 0.05} }
	return Plan{
		Parties: []Party{{Role: "the principal", Turn: 2, Name: "Ines Okafor", Email: "ines@halyard-rook.example", Known: BySignIn, Signs: true},
			{Role: "the client", Turn: 1, Name: "Callum Wray", Email: "callum@wray.example", Known: ByLink, Signs: true, MayHand: true}},
		Places: []Place{{ID: 1, Party: 1, Page: 2, Box: box(0.7), Kind: Signature, Must: true}, {ID: 2, Party: 1, Page: 2, Box: box(0.8), Kind: SignedOn}, {ID: 3, Party: 1, Page: 1, Box: box(0.5), Kind: Text, Most: 10},
			{ID: 4, Party: 0, Page: 2, Box: Box{0.5, 0.7, 0.3, 0.05}, Kind: Signature, Must: true}, {ID: 5, Party: 1, Page: 1, Box: box(0.6), Kind: Tick, Must: true}},
	}
}

func hand() *Hand { return &Hand{Typed: "Callum Wray"} }

func code(err error) string {
	if err == nil {
		return ""
	}
	return fault.Of(err).Code
}

func flaws(all []Problem) (out []string) {
	for _, p := range all {
		out = append(out, p.At+" "+string(p.Flaw))
	}
	return out
}

// Each flaw is found where it stands, and nothing else is.
func TestCheck(t *testing.T) {
	for name, c := range map[string]struct {
		change func(p *Plan)
		want   []string
	}{
		"sound":             {func(*Plan) {}, nil},
		"nobody":            {func(p *Plan) { p.Parties = nil }, []string{"parties no-parties"}},
		"no place to sign":  {func(p *Plan) { p.Places = p.Places[:3] }, []string{"parties/0 no-signature"}},
		"may sign":          {func(p *Plan) { p.Places[3].Must = false }, []string{"parties/0 no-signature"}},
		"signs not":         {func(p *Plan) { p.Parties[0].Signs = false }, []string{"parties/0 signs-not"}},
		"off the page":      {func(p *Plan) { p.Places[0].Box.X = 0.9 }, []string{"places/1 off-the-page"}},
		"tiny":              {func(p *Plan) { p.Places[0].Box.W = 0.001 }, []string{"places/1 too-small"}},
		"no page":           {func(p *Plan) { p.Places[0].Page = 3 }, []string{"places/1 no-such-page"}},
		"over another":      {func(p *Plan) { p.Places[1].Box.Y = 0.72 }, []string{"places/2 overlaps"}},
		"one address":       {func(p *Plan) { p.Parties[1].Email = "INES@halyard-rook.example" }, []string{"parties/1 same-address"}},
		"no address":        {func(p *Plan) { p.Parties[1].Email = "" }, []string{"parties/1 no-address"}},
		"odd identity":      {func(p *Plan) { p.Parties[1].Known = "by sight" }, []string{"parties/1 unknown-identity"}},
		"order without end": {func(p *Plan) { p.Parties[1].Turn = 7 }, []string{"parties/1 wrong-turn"}},
		"one choice":        {func(p *Plan) { p.Places[2].Kind, p.Places[2].Choices = Choice, []string{"yes"} }, []string{"places/3 few-choices"}},
		"fixed and empty":   {func(p *Plan) { p.Places[2].Kind = Fixed }, []string{"places/3 nothing-written"}},
		"nobody's":          {func(p *Plan) { p.Places[2].Party = 2 }, []string{"places/3 no-such-party"}},
		"twice":             {func(p *Plan) { p.Places[2].ID = 1 }, []string{"places/1 same-number"}},
	} {
		p := plan()
		c.change(&p)
		if got := flaws(Check(p, 2, true)); !reflect.DeepEqual(got, c.want) {
			t.Errorf("%s: %q, want %q", name, got, c.want)
		}
	}
	p := plan()
	p.Parties[1].Name, p.Parties[1].Email = "", ""
	if got := Check(p, 2, false); len(got) > 0 {
		t.Errorf("a form need not name its parties: %v", got)
	}
}

// What is given is refused where it does not belong, and kept as it is meant where it does.
func TestValues(t *testing.T) {
	for _, c := range []struct {
		kind       Kind
		text, want string
		code       string
	}{
		{Text, " five ", "five", ""}, {Text, strings.Repeat("x", 11), "", "value-long"}, {Text, "a\x00b", "", "value-wrong"},
		{Date, "2026-02-28", "2026-02-28", ""}, {Date, "2026-02-30", "", "value-wrong"}, {Date, "30.11.2026", "", "value-wrong"},
		{Number, "4,5", "4.5", ""}, {Number, "-3", "-3", ""}, {Number, "1/3", "", "value-wrong"}, {Number, "1e9", "", "value-wrong"}, {Number, "four", "", "value-wrong"},
		{Choice, "red", "red", ""}, {Choice, "Red", "", "value-wrong"}, {Tick, "yes", "yes", ""}, {Tick, "no", "", "value-wrong"}, {SignedOn, "x", "", "place-unknown"},
	} {
		got, err := Place{ID: 1, Kind: c.kind, Most: 10, Choices: []string{"red", "blue"}}.Check(Value{Place: 1, Text: c.text})
		if code(err) != c.code || err == nil && got.Text != c.want {
			t.Errorf("%s %q: %q %v", c.kind, c.text, got.Text, err)
		}
	}
	nan := 0.0
	nan /= nan
	for name, c := range map[string]struct {
		h    *Hand
		code string
	}{
		"typed": {hand(), ""}, "none": {nil, "signature-missing"}, "empty": {&Hand{}, "signature-missing"}, "both": {&Hand{Typed: "x", Picture: []byte{1}}, "signature-missing"},
		"drawn": {&Hand{Height: 0.4, Strokes: [][]Point{{{0.1, 0.1, 1}, {0.2, 0.2, 0.5}}}}, ""}, "a dot": {&Hand{Height: 0.4, Strokes: [][]Point{{{0.1, 0.1, 1}}}}, "signature-unusable"},
		"outside": {&Hand{Height: 0.4, Strokes: [][]Point{{{0.1, 0.1, 1}, {0.2, 0.5, 1}}}}, "signature-unusable"}, "no number": {&Hand{Height: 0.4, Strokes: [][]Point{{{nan, 0.1, 1}, {0.2, 0.3, 1}}}}, "signature-unusable"},
		"long": {&Hand{Typed: strings.Repeat("x", 81)}, "signature-unusable"}, "lines": {&Hand{Typed: "a\nb"}, "signature-unusable"},
	} {
		if got := code(c.h.Check()); got != c.code {
			t.Errorf("%s: %q", name, got)
		}
	}
}

func sent() *Machine {
	m := &Machine{Now: noon}
	m.Send(plan(), noon.Add(72*time.Hour), uuid.New())
	return m
}

func full(m *Machine, party int) Signing {
	s := Signing{Known: ByLink, Pages: []int{2, 1, 2}}
	for _, p := range m.Request.Plan.Of(party) {
		v := Value{Place: p.ID}
		switch p.Kind {
		case Signature:
			v.Hand = hand()
		case Tick:
			v.Text = "yes"
		case SignedOn:
			continue
		}
		s.Values = append(s.Values, v)
	}
	return s
}

// Parties act in turn, each once, only with all that must be given and having read.
func TestInTurn(t *testing.T) {
	m := sent()
	if got := m.Request.Waiting(); !slices.Equal(got, []int{1}) {
		t.Fatalf("%v", got)
	}
	if got := code(m.Sign(0, 2, full(m, 0))); got != "not-your-turn" {
		t.Errorf("%s", got)
	}
	less := full(m, 1)
	less.Values = less.Values[2:]
	if got := code(m.Sign(1, 2, less)); got != "places-left" {
		t.Errorf("%s", got)
	}
	foreign := full(m, 1)
	foreign.Values = append(foreign.Values, Value{Place: 4, Hand: hand()})
	if got := code(m.Sign(1, 2, foreign)); got != "place-unknown" {
		t.Errorf("%s", got)
	}
	unread := full(m, 1)
	unread.Pages = []int{2, 2, 7}
	if got := code(m.Sign(1, 2, unread)); got != "pages-unread" {
		t.Errorf("%s", got)
	}
	if err := m.Sign(1, 2, full(m, 1)); err != nil {
		t.Fatal(err)
	}
	if got := code(m.Sign(1, 2, full(m, 1))); got != "signed-already" {
		t.Errorf("%s", got)
	}
	if got := m.Request.Waiting(); !slices.Equal(got, []int{0}) || m.Request.Status != Going {
		t.Fatalf("%v %v", got, m.Request.Status)
	}
	if m.Finish() {
		t.Error("it is not finished")
	}
	if err := m.Sign(0, 2, full(m, 0)); err != nil || m.Request.Status != Sealing || !m.Finish() || m.Request.Status != Finished {
		t.Errorf("%v %v", err, m.Request.Status)
	}
	if got := code(m.CallOff("too late", uuid.New())); got != "signing-over" {
		t.Errorf("%s", got)
	}
}

// At the second of its end a request is over; a moment before it is not.
func TestEnds(t *testing.T) {
	m := sent()
	m.Now = m.Request.Until.Add(-time.Nanosecond)
	if err := m.Open(1); err != nil {
		t.Error(err)
	}
	m.Now = m.Request.Until
	for _, got := range []error{m.Open(1), m.Sign(1, 2, full(m, 1)), m.Decline(1, "no"), m.Change(1, plan().Parties[1], uuid.New()), m.Prolong(m.Now.Add(time.Hour), uuid.New())} {
		if code(got) != "signing-over" {
			t.Errorf("%v", got)
		}
	}
	m.Tick()
	if m.Request.Status != Expired || len(m.Request.Waiting()) != 0 {
		t.Errorf("%+v", m.Request)
	}
	if d := Ends(noon, 14, time.UTC); d != time.Date(2026, 12, 14, 18, 0, 0, 0, time.UTC) {
		t.Errorf("%v", d)
	}
}

// Another takes a part as long as it is not done; what is asked of it stays.
func TestChangingParties(t *testing.T) {
	m := sent()
	other := Party{Name: "Marit Juhl", Email: "marit@pelham.example", Known: ByCode}
	if got := code(m.Hand(0, other)); got != "not-your-turn" {
		t.Errorf("%s", got)
	}
	if err := m.Hand(1, other); err != nil || m.Request.Plan.Parties[1].Role != "the client" || m.Request.Plan.Parties[1].Email != other.Email || !m.Request.Parties[1].Turn {
		t.Errorf("%v %+v", err, m.Request)
	}
	if got := code(m.Change(1, Party{Name: "Ines", Email: "ines@halyard-rook.example", Known: ByLink}, uuid.New())); got != "party-wrong" {
		t.Errorf("%s", got)
	}
	if err := m.Sign(1, 2, full(m, 1)); err != nil {
		t.Fatal(err)
	}
	if got := code(m.Change(1, other, uuid.New())); got != "signed-already" {
		t.Errorf("%s", got)
	}
	if got := code(m.Correct(nil, uuid.New())); got != "signed-by-somebody" {
		t.Errorf("%s", got)
	}
	if got := code(m.Hand(0, other)); got != "handing-not" {
		t.Errorf("%s", got)
	}
}

// Whatever is tried in whatever order, a request is what its events make of it, also through JSON; nobody signs
// before their turn or twice, and what has ended stays as it is.
func TestAnySchedule(t *testing.T) {
	for seed := range uint64(400) {
		r := rand.New(rand.NewPCG(seed, 1))
		p := Plan{}
		for i := range 1 + r.IntN(5) {
			p.Parties = append(p.Parties, Party{Turn: 1 + r.IntN(3), Name: "N", Email: string(rune('a'+i)) + "@x.example", Known: ByLink, Signs: true, MayHand: r.IntN(2) == 0})
			p.Places = append(p.Places, Place{ID: i, Party: i, Page: 1, Kind: Signature, Must: true, Box: Box{0.1, 0.1 * float64(i+1), 0.2, 0.05}})
		}
		for i := range p.Parties {
			p.Parties[i].Turn = min(p.Parties[i].Turn, len(p.Parties))
		}
		m := &Machine{Now: noon}
		m.Send(p, noon.Add(100*time.Hour), uuid.New())
		for step := range 60 {
			m.Now = m.Now.Add(time.Duration(r.IntN(240)-20) * time.Minute)
			before, events := m.Request, len(m.Events)
			i := r.IntN(len(p.Parties))
			switch r.IntN(9) {
			case 0, 1, 2:
				turn := before.Parties[i].Turn
				err := m.Sign(i, 1, Signing{Pages: []int{1}, Values: []Value{{Place: i, Hand: hand()}}})
				if err == nil && (!turn || before.Parties[i].Signed != nil || before.Status != Going) {
					t.Fatalf("seed %d: signed out of turn", seed)
				}
			case 3:
				_ = m.Open(i)
			case 4:
				_ = m.Hand(i, Party{Name: "O", Email: string(rune('k'+step%10)) + "@y.example", Known: ByLink})
			case 5:
				_, _ = m.Remind()
			case 6:
				m.Tick()
			case 7:
				if r.IntN(20) == 0 {
					_ = m.Decline(i, "no")
				}
			case 8:
				m.Finish()
			}
			if !before.Status.Alive() && len(m.Events) > events {
				t.Fatalf("seed %d: something happened after the end", seed)
			}
			checkTurns(t, m.Request)
		}
		raw, err := json.Marshal(m.Events)
		if err != nil {
			t.Fatal(err)
		}
		var again []Event
		if err := json.Unmarshal(raw, &again); err != nil || !reflect.DeepEqual(Replay(again), Replay(m.Events)) || !reflect.DeepEqual(Replay(m.Events), m.Request) {
			t.Fatalf("seed %d: played again it is another: %v", seed, err)
		}
	}
}

// checkTurns: as long as it goes on, exactly those wait who have the lowest number of all that have not signed.
func checkTurns(t *testing.T, r Request) {
	t.Helper()
	lowest := 0
	for i, s := range r.Parties {
		if n := r.Plan.Parties[i].Turn; s.Signed == nil && (lowest == 0 || n < lowest) {
			lowest = n
		}
	}
	for i, s := range r.Parties {
		if want := r.Status == Going && s.Signed == nil && r.Plan.Parties[i].Turn == lowest; s.Turn != want {
			t.Fatalf("party %d waits: %v, in %+v", i, s.Turn, r)
		}
	}
}

// What is written becomes smaller, and is refused where it could no longer be read.
func TestFits(t *testing.T) {
	width := func(letters float64) func(float64) float64 {
		return func(size float64) float64 { return size * letters / 2 }
	}
	for _, c := range []struct {
		letters, w, h, size float64
		fits                bool
	}{{10, 200, 20, 12, true}, {10, 40, 20, 8, true}, {10, 20, 20, 5, false}, {2, 200, 10, 7.2, true}} {
		if size, fits := Fits(width(c.letters), c.w, c.h); math.Abs(size-c.size) > 1e-9 || fits != c.fits {
			t.Errorf("%+v: %v %v", c, size, fits)
		}
	}
}

// Whatever is given at a place is kept within its bounds or refused, and keeping it again changes nothing.
func FuzzValue(f *testing.F) {
	f.Add("text", "some words", 5)
	f.Add("number", "1,5", 0)
	f.Fuzz(func(t *testing.T, kind, text string, most int) {
		p := Place{ID: 1, Kind: Kind(kind), Most: most, Choices: []string{"a", "b"}}
		v, err := p.Check(Value{Place: 1, Text: text})
		if err != nil {
			return
		}
		if again, err := p.Check(v); err != nil || again.Text != v.Text {
			t.Fatalf("%q became %q, %v", v.Text, again.Text, err)
		}
		p.Words(v, noon, time.UTC, "de")
	})
}

// A paper that is asked for is a file by its name and its hash; whose turn it is not, and at other places, nothing is brought.
func TestPapersAreBrought(t *testing.T) {
	sum := strings.Repeat("0a", 32)
	for text, c := range map[string]struct{ sum, code string }{
		"Insurance.pdf":          {sum, ""},
		"Insurance":              {"", "value-wrong"},
		"Insurance.png":          {sum[:62], "value-wrong"},
		"Insurance.txt":          {sum[:62] + "zz", "value-wrong"},
		strings.Repeat("ä", 201): {sum, "value-wrong"},
		"two\nlines.pdf":         {sum, "value-wrong"},
	} {
		if _, err := (Place{ID: 1, Kind: Paper}).Check(Value{Place: 1, Text: text, SHA256: c.sum}); code(err) != c.code {
			t.Errorf("%q: %v", text, err)
		}
	}
	if v, err := (Place{ID: 1, Kind: Text}).Check(Value{Place: 1, Text: "x", SHA256: sum}); err != nil || v.SHA256 != "" {
		t.Errorf("words bear a hash: %+v %v", v, err)
	}
	m := &Machine{Now: noon}
	p := plan()
	p.Places = append(p.Places, Place{ID: 90, Party: 1, Page: 1, Kind: Paper, Must: true, Box: Box{X: 0.1, Y: 0.1, W: 0.3, H: 0.05}})
	m.Send(p, noon.Add(72*time.Hour), uuid.New())
	if err := m.Brings(1, 90); err != nil {
		t.Error(err)
	}
	for what, c := range map[string]struct {
		party, place int
		code         string
	}{"another place": {1, p.Of(1)[len(p.Of(1))-1].ID, "place-unknown"}, "no place": {1, 91, "place-unknown"}, "another's": {0, 90, "not-your-turn"}} {
		if err := m.Brings(c.party, c.place); code(err) != c.code {
			t.Errorf("%s: %v", what, err)
		}
	}
	s := full(m, 1)
	for i := range s.Values {
		if s.Values[i].Place == 90 {
			s.Values[i].Text, s.Values[i].SHA256 = "Insurance.pdf", sum
		}
	}
	if err := m.Sign(1, 2, s); err != nil {
		t.Fatal(err)
	}
	if err := m.Brings(1, 90); code(err) != "signed-already" {
		t.Errorf("after signing: %v", err)
	}
	room := func(n int) func(string) bool { return func(words string) bool { return len([]rune(words)) <= n } }
	for n, want := range map[int]string{20: "Insurance.pdf", 13: "Insurance.pdf", 9: "Insu….pdf", 3: "I…f", 0: "…"} {
		if got := Shortened("Insurance.pdf", room(n)); got != want {
			t.Errorf("with room for %d: %q, want %q", n, got, want)
		}
	}
}
