package postgres

import (
	"reflect"
	"strings"
)

// Columns are the columns in which a value of a struct is kept, by the db tags of its
// fields and of what is embedded in it.
func Columns[T any]() (all []string) {
	var walk func(t reflect.Type)
	walk = func(t reflect.Type) {
		for i := range t.NumField() {
			f := t.Field(i)
			tag := f.Tag.Get("db")
			switch {
			case f.Anonymous && tag == "":
				walk(f.Type)
			case tag != "" && tag != "-":
				all = append(all, tag)
			}
		}
	}
	walk(reflect.TypeFor[T]())
	return all
}

// Named writes columns as an INSERT names their values: :one, :two.
func Named(columns []string) string { return ":" + strings.Join(columns, ", :") }

// Set writes columns as an UPDATE sets them: one = :one, two = :two.
func Set(columns []string) string {
	set := make([]string, len(columns))
	for i, c := range columns {
		set[i] = c + " = :" + c
	}
	return strings.Join(set, ", ")
}
