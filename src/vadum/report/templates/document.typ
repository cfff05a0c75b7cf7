// A document of the laboratory: its parts one after the other, each on a page of its own.
#import "family.typ": *
#import "cover.typ": cover
#import "test.typ": test-sheet
#import "sample.typ": sample-sheet
#import "log.typ": location-log
#import "summary.typ": project-summary
#let d = json(sys.inputs.data)
#show: family.with(d)
// Of a long document the contents are gathered from all stretches.
#let opening = cover.with(contents: d.at("contents", default: none))
#let layouts = (cover: opening, test: test-sheet, sample: sample-sheet, log: location-log, summary: project-summary)

#for (i, part) in d.parts.enumerate() [
  #if i > 0 { pagebreak() }
  #let data = json(part.file)
  #begins(data.at("number", default: ""))
  #(layouts.at(part.kind))(data)
]
