package tell

// Mark says which of two texts a line is of.
type Mark string

// The marks.
const (
	Same  Mark = "same"
	Gone  Mark = "gone"
	Added Mark = "added"
)

// Change is a line of two texts laid over each other.
type Change struct {
	Mark  Mark   `json:"mark" enum:"same,gone,added"`
	Depth int    `json:"depth"`
	Text  string `json:"text"`
}

// Compare lays two texts over each other by their longest common subsequence of lines, gone before added.
func Compare(before, after []Line) []Change {
	same := func(i, j int) bool { return before[i].Text == after[j].Text && before[i].Depth == after[j].Depth }
	// common[i][j] is how many lines of before[i:] and after[j:] they have in common.
	common := make([][]int, len(before)+1)
	for i := range common {
		common[i] = make([]int, len(after)+1)
	}
	for i := len(before) - 1; i >= 0; i-- {
		for j := len(after) - 1; j >= 0; j-- {
			if same(i, j) {
				common[i][j] = common[i+1][j+1] + 1
			} else {
				common[i][j] = max(common[i+1][j], common[i][j+1])
			}
		}
	}
	lines := []Change{}
	i, j := 0, 0
	for i < len(before) || j < len(after) {
		switch {
		case i < len(before) && j < len(after) && same(i, j):
			lines = append(lines, Change{Same, after[j].Depth, after[j].Text})
			i, j = i+1, j+1
		case i < len(before) && (j == len(after) || common[i+1][j] >= common[i][j+1]):
			lines = append(lines, Change{Gone, before[i].Depth, before[i].Text})
			i++
		default:
			lines = append(lines, Change{Added, after[j].Depth, after[j].Text})
			j++
		}
	}
	return lines
}
