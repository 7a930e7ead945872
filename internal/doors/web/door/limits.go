package door

import (
	"tabularis/internal/doors/web/present"
)

func Limited(asked *int, usual, most int) (int, error) {
	n := present.Or(asked, usual)
	if n < 1 || n > most {
		return 0, errLimitRange.In("limit", "ask for between 1 and %d rows", most)
	}
	return n, nil
}
