package server

import (
	"net/url"

	"github.com/danielgtaylor/huma/v2"
)

// decoded is a request whose parameters in the path are read as they were meant: clients write what has a meaning in addresses
// with percent signs (RFC 3986, section 2.1), and the router leaves it so, because a slash within a parameter is no end of it.
type decoded struct{ request }

// request is a huma.Context under a name that is none of its methods.
type request huma.Context

// decode has each operation given its parameters decoded. It must be the last before the operation.
func decode(ctx huma.Context, next func(huma.Context)) { next(decoded{ctx}) }

// Param returns a parameter of the path; one that is not encoded rightly is returned as it is.
func (d decoded) Param(name string) string { return meant(d.request.Param(name)) }

// meant returns a part of an address as it was meant; what is not encoded rightly is returned as it is.
func meant(given string) string {
	if meant, err := url.PathUnescape(given); err == nil {
		return meant
	}
	return given
}

// Unwrap returns the request as the router has it.
func (d decoded) Unwrap() huma.Context { return d.request }
