package cutting_test

import (
	"context"
	"fmt"

	"gladember/core/cutting"
)

// Four frame boards out of shop lengths: the dearer long board is worth it only where it saves a short one.
func ExampleSolve() {
	job := &cutting.Job{
		Kerf: 0.003,
		Stock: []cutting.Bar{
			{Name: "8 ft", Length: 2.4384, Count: cutting.Any, Price: 6.5},
			{Name: "offcut", Length: 0.91, Count: 1},
		},
		Pieces: []cutting.Piece{{Name: "side", Length: 1.486, Count: 2}, {Name: "top and bottom", Length: 0.838, Count: 2}},
	}
	plan, err := cutting.Solve(context.Background(), job)
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, bar := range plan.Bars {
		fmt.Printf("%s:", job.Stock[bar.Stock].Name)
		for _, at := range bar.Pieces {
			fmt.Printf(" %s at %.0f mm,", job.Pieces[at.Piece].Name, 1000*at.From)
		}
		fmt.Printf(" %.0f mm left\n", 1000*bar.Offcut)
	}
	fmt.Printf("cost %.2f, proven %v\n", plan.Cost, plan.Proven)
	// Output:
	// 8 ft: side at 0 mm, top and bottom at 1489 mm, 108 mm left
	// 8 ft: side at 0 mm, top and bottom at 1489 mm, 108 mm left
	// cost 13.00, proven true
}

// Five panels of more than half a sheet both ways need five sheets, whatever their area.
func ExampleSolveSheets() {
	job := &cutting.SheetJob{
		Stock:  []cutting.Sheet{{Name: "4 x 8 ft", Width: 1.2192, Height: 2.4384, Count: cutting.Any, Price: 40}},
		Panels: []cutting.Panel{{Name: "back", Width: 0.7, Height: 1.3, Count: 5}},
	}
	plan, err := cutting.SolveSheets(context.Background(), job)
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("%d sheets, at least %d, cost %.0f\n", len(plan.Sheets), plan.LeastSheets, plan.Cost)
	// Output: 5 sheets, at least 5, cost 200
}
