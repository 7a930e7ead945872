package fault

import (
	"errors"
	"fmt"
	"testing"
	"time"
)

func TestRefusalsAreFoundInTheirChain(t *testing.T) {
	cause := errors.New("cause")
	for _, c := range []struct {
		err  error
		kind Kind
		code string
	}{
		{Missing(), NotFound, "not-found"},
		{fmt.Errorf("looking: %w", Refused("do this")), Forbidden, "not-allowed"},
		{fmt.Errorf("a: %w", fmt.Errorf("b: %w", &Error{Kind: Invalid, Code: "name-empty", Field: "name"})), Invalid, "name-empty"},
		{Slow(3 * time.Second), RateLimited, "too-many-tries"},
		{cause, Internal, "internal"},
		{&Error{Kind: Conflict, Code: "x", Cause: cause}, Conflict, "x"},
	} {
		if f := Of(c.err); f.Kind != c.kind || f.Code != c.code {
			t.Errorf("%v: %v %s", c.err, f.Kind, f.Code)
		}
		if Is(c.err, c.kind) != (c.kind != Internal) {
			t.Errorf("%v: Is says otherwise", c.err)
		}
	}
	if !errors.Is(&Error{Cause: cause}, cause) || !errors.Is(Of(cause), cause) {
		t.Error("the cause is lost")
	}
	if Is(nil, NotFound) {
		t.Error("nothing is no refusal")
	}
}

func TestMessagesNameFieldAndCause(t *testing.T) {
	e := &Error{Code: "name-taken", Field: "name", Detail: "it is there", Cause: errors.New("index")}
	if got := e.Error(); got != "name-taken (name): it is there: index" {
		t.Errorf("says %q", got)
	}
}
