// A document of the laboratory: its parts one after the other, each on a page of its own.
#import "family.typ": *
#import "test.typ": test-sheet
#import "sample.typ": sample-sheet
#import "log.typ": location-log
#let d = json("document.json")
#show: family.with(d)
#let layouts = (test: test-sheet, sample: sample-sheet, log: location-log)

#for (i, part) in d.parts.enumerate() [
  #if i > 0 { pagebreak() }
  #(layouts.at(part.kind))(json(part.file))
]
