package server

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"strconv"
)

// sheet is an answer of comma-separated values (RFC 4180).
type sheet struct {
	ContentType string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Body        []byte
}

func asSheet(rows [][]string, name string) *sheet {
	var text bytes.Buffer
	w := csv.NewWriter(&text)
	w.UseCRLF = true
	for _, row := range rows {
		for i, cell := range row {
			// A spreadsheet would take these for formulas, unless they are numbers.
			if _, err := strconv.ParseFloat(cell, 64); err == nil {
				continue
			}
			if cell != "" && bytes.ContainsRune([]byte("=+-@\t\r"), rune(cell[0])) {
				row[i] = "'" + cell
			}
		}
	}
	_ = w.WriteAll(rows) // a buffer takes all
	return &sheet{ContentType: "text/csv; charset=utf-8", Disposition: fmt.Sprintf("attachment; filename=%q", name), Body: text.Bytes()}
}
