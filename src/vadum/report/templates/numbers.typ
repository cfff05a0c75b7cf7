// The numbers of pages alone, to be laid over a long document that was set in stretches.
#import "family.typ": *
#let d = json(sys.inputs.data)
#set page(
  paper: "a4",
  margin: (x: 18mm, top: 16mm, bottom: 18mm),
  footer: context align(right, text(8pt, fill: soft, page-of(d))),
)
#set text(font: ("Atkinson Hyperlegible Next", "DejaVu Sans"), lang: "en")
#for i in range(d.pages) [#if i > 0 { pagebreak() } #v(1pt)]
