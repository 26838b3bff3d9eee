package expr_test

import (
	"testing"

	"amvek/core/expr"
)

func BenchmarkEvaluate(b *testing.B) {
	var language expr.Language
	x, _ := language.Compile(`value("a", "temperature") > 21.0 && value("a", "motion")`, lived())
	home := lived()
	b.ReportAllocs()
	for b.Loop() {
		if _, err := x.Evaluate(home); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkCompile(b *testing.B) {
	var language expr.Language
	for b.Loop() {
		language.Compile(`value("a", "temperature") > 21.0 && value("a", "motion")`, lived())
	}
}
