// Labels on sheets of three by eight, 70 x 37 mm without margins between them.
#let every = json(sys.inputs.data)
#set document(title: "Labels")
#set page(paper: "a4", margin: (x: 0mm, top: 0.5mm, bottom: 0mm))
#set text(font: ("Atkinson Hyperlegible Next", "DejaVu Sans"), size: 8pt, lang: "en", hyphenate: false)
#let across = 32mm
#let down = 30mm
#let words(name, size, lines) = [
  #text(size, weight: "bold", name)
  #for line in lines [ \ #line]
]
// A name is on the label whole, as large as it can be; below it what there is room for, the most needed first.
#let fitting(one) = context {
  let fits(name, size, lines) = {
    let set-in = measure(block(width: across, words(name, size, lines)))
    let longest = calc.max(..name.split(" ").map(word => measure(text(size, weight: "bold", word)).width))
    set-in.height <= down and longest <= across
  }
  // Where a word is longer than the label is wide it is broken anywhere.
  let broken = one.name.clusters().join("\u{200b}")
  for kept in range(one.lines.len(), -1, step: -1) {
    let lines = one.lines.slice(0, kept)
    for size in (15pt, 13pt, 11pt, 9pt, 8pt, 7pt) {
      if size > 11pt and one.name.clusters().len() > 12 { continue }
      if fits(one.name, size, lines) { return words(one.name, size, lines) }
    }
  }
  words(broken, 6pt, ())
}
#let label(one) = box(width: 70mm, height: 37mm, inset: (x: 4mm, y: 3.5mm), clip: true, grid(
  columns: (27mm, across),
  column-gutter: 3mm,
  align: horizon,
  image(one.file, width: 27mm, alt: "code of " + one.name),
  fitting(one),
))
#grid(columns: (70mm,) * 3, rows: 37mm, ..every.map(label))
