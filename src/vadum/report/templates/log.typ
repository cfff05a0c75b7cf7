// The log of a location: the ground to scale, results beside their depth.
#import "family.typ": *

#let location-log(d) = [
  = #d.title
  #line(length: 100%, stroke: 0.8pt)
  #pairs(d.particulars)
  #v(4pt)
  #image(d.figures.first().file, width: 100%, alt: d.figures.first().description)
  #if d.unchecked != "" [#text(8.5pt, fill: soft, d.unchecked) \ ]
  #if d.tests.len() > 0 [
    == Tests in the ground
    #lines(("test", "results", "state", "sheet"), d.tests, words: 3, columns: (auto, 1fr, auto, auto))
  ]
]
