// The results of a project side by side.
#import "family.typ": *

#let project-summary(d) = [
  = #d.title
  #line(length: 100%, stroke: 0.8pt)
  #pairs(d.particulars)
  #if d.spreads.len() == 0 [#v(8pt) No test is done and reportable yet.] else [
    == How the results spread
    #lines(("quantity", "meaning", "n", "least", "most", "mean", "s", "cautious"), d.spreads, words: 2,
      columns: (auto, 1fr, auto, auto, auto, auto, auto, auto), size: 8.5pt)
    #text(8pt, fill: soft, d.caution)
    #if d.unchecked != "" [\ #text(8pt, fill: soft, d.unchecked)]
  ]
  #for one in d.figures { figure-of(one) }
  #for m in d.matrices [
    == By sample: #m.title
    #lines(m.head, m.rows, words: 3, size: if m.head.len() > 9 { 7.5pt } else { 8.5pt })
  ]
  #if d.tests.len() > 0 [
    == All parameters, by test
    #lines(("where", "depth, m", "test", "reported"), d.tests, words: 4, columns: (auto, auto, 38mm, 1fr), size: 8pt)
  ]
]
