package door

import (
	"bytes"
	"errors"
	"io"
	"net/http"
	"net/url"
	"unicode/utf8"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/gin-gonic/gin"

	"tabularis/api"
	"tabularis/core/fault"
	"tabularis/core/names"
)

// Validate compares every request with the contract before anything looks at it:
// what is no text, has the wrong form, or is longer or larger than the contract says
// is refused here, in one place.
func (s *Door) Validate(operations map[string]api.Operation) gin.HandlerFunc {
	options := &openapi3filter.Options{AuthenticationFunc: openapi3filter.NoopAuthenticationFunc, SkipSettingDefaults: true}
	return func(c *gin.Context) {
		op, known := operations[api.Key(c.Request.Method, c.FullPath())]
		if !known {
			return
		}
		if err := text(c.Request); err != nil {
			s.Problem(c, err)
			c.Abort()
			return
		}
		params := map[string]string{}
		for _, p := range c.Params {
			params[p.Key] = p.Value
		}
		err := openapi3filter.ValidateRequest(c.Request.Context(), &openapi3filter.RequestValidationInput{
			Request: c.Request, PathParams: params, Options: options,
			Route: op.Route,
		})
		if err != nil {
			s.Problem(c, offence(err))
			c.Abort()
		}
	}
}

// text refuses addresses and bodies with bytes that are no text: not UTF-8, or zero.
// A zero that JSON writes by its number is the database's to refuse, see outage. The
// body is read whole, and given back.
func text(r *http.Request) error {
	address := r.URL.Path + r.URL.RawQuery
	if query, err := url.QueryUnescape(r.URL.RawQuery); err == nil {
		address += query
	}
	if !names.Storable(address) {
		return fault.Parameter.New("the address holds what is no text")
	}
	if r.Body == nil || r.Body == http.NoBody {
		return nil
	}
	raw, err := io.ReadAll(r.Body)
	if err != nil {
		return badBody(err)
	}
	r.Body = io.NopCloser(bytes.NewReader(raw))
	if !utf8.Valid(raw) || bytes.IndexByte(raw, 0) >= 0 {
		return errBody.New("the request holds what is no text")
	}
	return nil
}

// tooLong are the fields whose length has a word of its own, in which people write at
// length.
var tooLong = map[string]fault.Code{"message": fault.MessageLong, "note": fault.NoteLong, "password": fault.PasswordLong}

// offence says what in a request is not as the contract says, and where. What was
// sent is not repeated.
func offence(err error) error {
	var request *openapi3filter.RequestError
	var schema *openapi3.SchemaError
	code, field, detail := errBody, "", "the request is not as it should be"
	if errors.As(err, &request) && request.Parameter != nil {
		code, field, detail = fault.Parameter, request.Parameter.Name, "this is not as it should be"
	}
	if errors.As(err, &schema) {
		if at := schema.JSONPointer(); len(at) > 0 {
			field = at[0]
		}
		if long, ok := tooLong[field]; ok && schema.SchemaField == "maxLength" {
			code = long
		}
		detail = schema.Reason
	}
	return code.In(field, "%s", detail)
}
