package server

import (
	"encoding/csv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestASheetIsSafeForSpreadsheets(t *testing.T) {
	s := asSheet([][]string{{"device", "note"}, {`=HYPERLINK("x")`, "two\nlines, and a comma"}, {"+1", "@x"}, {"Lamp", ""}}, "care.csv")
	assert.Equal(t, `attachment; filename="care.csv"`, s.Disposition)
	rows, err := csv.NewReader(strings.NewReader(string(s.Body))).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, [][]string{{"device", "note"}, {`'=HYPERLINK("x")`, "two\nlines, and a comma"}, {"+1", "'@x"}, {"Lamp", ""}}, rows)
}
