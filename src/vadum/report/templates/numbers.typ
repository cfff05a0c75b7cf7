// The numbers of pages alone, to be laid over a long document that was set in stretches.
#import "family.typ": *
#let d = json(sys.inputs.data)
#set text(font: ("Atkinson Hyperlegible Next", "DejaVu Sans"), lang: "en")
#for this in range(1, d.pages + 1) {
  page(paper: "a4", margin: (x: 18mm, top: 16mm, bottom: 18mm), footer: align(right, text(8pt, fill: soft, page-words(
    d, this, d.pages,
  ))))[]
}
