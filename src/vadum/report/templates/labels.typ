// Labels on sheets of three by eight, 70 x 37 mm without margins between them.
#let every = json(sys.inputs.data)
#set document(title: "Labels")
#set page(paper: "a4", margin: (x: 0mm, top: 0.5mm, bottom: 0mm))
#set text(font: ("Atkinson Hyperlegible Next", "DejaVu Sans"), size: 8pt, lang: "en", hyphenate: false)
#let label(one) = box(width: 70mm, height: 37mm, inset: (x: 4mm, y: 4mm), clip: true, grid(
  columns: (27mm, 1fr),
  column-gutter: 3mm,
  align: horizon,
  image(one.file, width: 27mm, alt: "code of " + one.name),
  [
    #text(if one.name.clusters().len() > 12 { 11pt } else { 15pt }, weight: "bold", one.name)
    #for line in one.lines [ \ #line]
  ],
))
#grid(columns: (70mm,) * 3, rows: 37mm, ..every.map(label))
