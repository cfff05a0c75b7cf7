// The first page of a report, its contents and the tests it was made from.
#import "family.typ": *

// Each part with the page that it begins on after these first ones; the links are led to the parts where the stretches
// are joined.
#let gathered(contents) = context {
  let own = counter(page).final().first()
  [
    #heading(level: 1, outlined: false)[Contents]
    #for (i, (title, page)) in contents.enumerate() [
      #link("part:" + str(i), block(spacing: 0.65em, breakable: false)[
        #title #box(width: 1fr, repeat(gap: 0.15em)[.]) #(own + page)
      ])
    ]
  ]
}

#let cover(d, contents: none) = [
  #v(38mm)
  #text(11pt, fill: soft)[#d.project#if d.client != "" [, for #d.client]]
  #v(-2mm)
  #text(27pt, weight: 700, d.title)
  #if d.note != "" [#v(-3mm) #text(11pt, d.note)]
  #v(8mm)
  #line(length: 100%, stroke: 0.8pt)
  #pairs(d.facts, cols: 1)
  #if not d.issued [#v(6mm) #block(stroke: 1.2pt + black, inset: 8pt)[*Draft.* Not issued: results may still change.]]
  #v(1fr)
  #text(8pt, fill: soft)[Results hold for the samples and places tested, as received and as found.
    A licensed engineer decides what they are used for; local codes come first.]
  #pagebreak()
  #if contents == none { outline(title: [Contents], depth: 1) } else { gathered(contents) }
  #v(6mm)
  #if d.tests.len() > 0 [
    #block(text(10.5pt, weight: 700)[Tests in this report])
    #lines(("where", "test", "state", "sheet"), d.tests, words: 3, columns: (auto, 1fr, auto, auto), size: 8.5pt)
  ]
]
