// The identity card of a sample.
#import "family.typ": *

#let sample-sheet(d) = [
  = #d.title
  #line(length: 100%, stroke: 0.8pt)
  #pairs(d.particulars)
  #if d.class.len() > 0 [
    == Class
    #text(13pt, weight: 600, d.class.first()) #text(fill: soft, d.class.slice(1).join(" · "))
  ]
  #if d.facts.len() > 0 [
    // Beside the heading: a line of its own would push the list of tests over the foot of the page.
    #if d.unchecked != "" { place(right, dy: -2pt, text(8.5pt, fill: soft, d.unchecked)) }
    == Found
    #grid(columns: (1fr,) * 5, column-gutter: 8pt, row-gutter: 8pt, ..d.facts.map(f => block(breakable: false)[
      #text(8.5pt, fill: soft, f.at(0)) \
      #text(13pt, weight: 600, f.at(1)) #if f.at(1) != "NP" [#text(8.5pt, fill: soft, f.at(2))]
    ]))
  ]
  #for one in d.figures { figure-of(one) }
  #if d.findings.len() > 0 [
    == Results that contradict each other
    #for f in d.findings [- *#f.severity:* #f.message]
  ]
  == Tests
  #if d.tests.len() == 0 [No test yet.] else {
    lines(("test", "results", "state", "sheet"), d.tests, words: 3, columns: (auto, 1fr, auto, auto))
  }
  #text(8pt, fill: soft, d.as_received)
]
