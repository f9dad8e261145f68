// Package formula works out the formulas that workings show, by Go's own
// constant evaluator, so that tests can hold each figure to its working.
package formula

import (
	"go/constant"
	"go/token"
	"go/types"
)

// Value evaluates a formula of + - * / and brackets with terms put in, each a
// number under its symbol. The error is that of Go's own parser, such as for a
// symbol that no term has.
func Value(formula string, terms map[string]float64) (float64, error) {
	pkg := types.NewPackage("x", "x")
	for name, v := range terms {
		pkg.Scope().Insert(types.NewConst(token.NoPos, pkg, name, types.Typ[types.UntypedFloat], constant.MakeFloat64(v)))
	}
	tv, err := types.Eval(token.NewFileSet(), pkg, token.NoPos, formula)
	if err != nil {
		return 0, err
	}
	got, _ := constant.Float64Val(tv.Value)
	return got, nil
}
