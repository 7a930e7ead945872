package door

import (
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"net/http"
	"syscall"
	"time"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/platform/postgres"
)

// Outage says what a failure of ours means to whoever asked.
func Outage(err error) *fault.Error {
	switch {
	case errors.Is(err, syscall.ENOSPC) || errors.Is(err, syscall.EDQUOT):
		return errNoSpace.New("there is no space left; nothing was changed")
	case errors.Is(err, syscall.EROFS) || errors.Is(err, fs.ErrPermission):
		return errStoreAway.New("content cannot be stored at the moment; nothing was changed")
	case postgres.Unfit(err):
		return errValue.New("a value is not what it is taken for; nothing was changed")
	case postgres.Away(err):
		return errDatabaseAway.New("the database is away for the moment; nothing was changed").Later(2 * time.Second)
	}
	return errInternal.New("something failed on our side; nothing was changed")
}

var statusOf = map[fault.Kind]int{
	fault.Internal: http.StatusInternalServerError, fault.NotFound: http.StatusNotFound, fault.Unauthenticated: http.StatusUnauthorized,
	fault.Forbidden: http.StatusForbidden, fault.Conflict: http.StatusConflict, fault.Invalid: http.StatusBadRequest,
	fault.Gone: http.StatusGone, fault.TooLarge: http.StatusRequestEntityTooLarge, fault.RateLimited: http.StatusTooManyRequests, fault.Unavailable: http.StatusServiceUnavailable, fault.NoSpace: http.StatusInsufficientStorage,
}

func ProblemOf(f *fault.Error) contract.Problem {
	p := contract.Problem{Type: "/problems/" + f.Code, Title: f.Code, Status: statusOf[f.Kind]}
	if f.Detail != "" {
		p.Detail = &f.Detail
	}
	if f.Field != "" {
		p.Field = &f.Field
	}
	if f.RetryAfter > 0 {
		seconds := int((f.RetryAfter + time.Second - 1) / time.Second)
		p.RetryAfter = &seconds
	}
	return p
}

func WriteProblem(c *gin.Context, f *fault.Error) {
	if c.Writer.Written() {
		return
	}
	p := ProblemOf(f)
	if p.RetryAfter != nil {
		c.Header("Retry-After", fmt.Sprint(*p.RetryAfter))
	}
	body, err := json.Marshal(p)
	if err != nil {
		c.Status(http.StatusInternalServerError)
		return
	}
	c.Data(p.Status, "application/problem+json", body)
}
