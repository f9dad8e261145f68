// Package cutting says how pieces come out of bars and sheets: which of them to
// take, what to cut from each, and in which order.
//
// # Bars
//
// Pieces of given lengths are cut from bars of several lengths, some on hand, some
// sold, each cut as wide as the saw's kerf. With x the number of bars cut by a
// pattern,
//
//	minimize  sum of cost x   subject to   pieces cut >= pieces wanted,  bars <= bars there are
//
// The cost is what must be bought; among plans of equal cost the one that opens
// the least length of stock is the best. The linear bound is found by column
// generation (Gilmore and Gomory 1961): patterns are made as they are needed, by
// a bounded knapsack over the prices that the plan so far puts on the pieces.
// Whole numbers come from rounding, from greedy plans by those prices, and from
// a search that branches on the longest piece left; a bound is rounded up to the
// next total that whole bars can have. [Plan.Proven] says whether the search has
// excluded every better plan; if time runs out first, [Plan.CostBound] tells how far
// from the best it may be.
//
// # Sheets
//
// Panels are cut from sheets by straight cuts from edge to edge, as a table saw, a
// track saw or a knife along a rule makes them. Several greedy layouts with many
// orders are tried and the cheapest kept; its bound is that of the areas, and of
// the panels of which no two fit on one sheet.
//
// # What is not covered
//
// Knots, twists and torn edges of used wood are the builder's to see: give such a
// bar as what is sound of it. Layouts of sheets are good ones and no proven best,
// unless they meet their bound. Cuts that stop within a sheet, as a jigsaw makes
// them, are not planned; a sheet is always parted by straight cuts from edge to
// edge. Panels whose grain matters are never turned; whether a face side shows is
// not known here.
//
// # Time
//
// A shop's list takes some hundredths of a second. A search ends by itself at its
// limit, and says what it has not excluded; two thousand pieces of as many
// lengths are planned to within a few percent in a quarter of a minute.
//
// # Order of work
//
// Pieces of a bar lie the longest first, so that all pieces of one length can be
// cut at one setting of the stop, from bar to bar. Cuts of a sheet are numbered in
// an order in which each goes through its whole remaining piece.
//
// # Stability
//
// What is cut already stays ([Job.Keep]); among equally good plans the one before
// is kept as far as its bars still serve.
//
// # A heater's parts
//
// [Parts] sorts the parts of a heater by material and plans each. Used first is what
// lies opened, then what is on hand, which both cost nothing, then what is sold. A
// part larger than anything sold is made of equal pieces, with the joint told
// ([Split]); only what no number of pieces would help is left out.
//
// # While the saw runs
//
// The design may change while pieces are cut. A [Record] holds the plan by the names
// and sizes of parts, with a mark at each piece that is cut; [Parts] goes on from it.
// Of an opened bar the rest is stock, of an opened sheet the panels that are cut or
// still wanted stay in their places and all else is free. Once all pieces of a bar or
// sheet are cut, [Record.Offcuts] says what is left of it.
//
// # Units
//
// Lengths are m, prices in any one money. Inside, lengths are whole tenths of a
// micrometer, in which both millimeters and sixteenths of an inch are exact.
//
// # Checks
//
// A published instance with 13 lengths (73 bars); fifty random lists against an
// integer-programming solver; no overlap and a kept kerf on a thousand random
// lists. Published sheets: one that takes two, and two of unequal squares that fill
// a sheet as no saw can cut it. Random pieces of every example are cut one after the
// other while the glazing changes.
package cutting
