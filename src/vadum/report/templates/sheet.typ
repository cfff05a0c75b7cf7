// A test sheet on A4. Everything printed comes from sheet.json; nothing is computed here.
#let d = json("sheet.json")
#let soft = rgb("#444444")
#let rule = 0.5pt + rgb("#bbbbbb")
#set document(title: d.title + " " + d.number, author: "Vadum")
#set page(
  paper: "a4", margin: (x: 18mm, top: 16mm, bottom: 18mm),
  footer: context text(8pt, fill: soft)[Sheet #d.number, #d.state #h(1fr) page #counter(page).display() of #counter(page).final().first()],
)
#set text(font: ("Atkinson Hyperlegible Next", "DejaVu Sans Mono"), size: 9.5pt, lang: "en")
#show heading.where(level: 1): it => text(18pt, weight: 700, it.body)
#show heading.where(level: 2): it => block(above: 11pt, below: 5pt, text(10.5pt, weight: 700, it.body))
#let pairs(list, cols: 2) = grid(columns: (auto, 1fr) * cols, column-gutter: 8pt, row-gutter: 5pt,
  ..list.map(p => (text(fill: soft, p.at(0)), p.at(1))).flatten())

= #d.title
#v(-4pt)
#text(fill: soft)[#d.school. Follows #d.basis.]
#line(length: 100%, stroke: 0.8pt)
#pairs(d.particulars)

#if d.state == "void" [#block(fill: rgb("#f0f0f0"), inset: 8pt, width: 100%)[*Void:* #d.void_reason]]
#if not d.reportable [#block(stroke: 1.2pt + black, inset: 8pt, width: 100%)[*Not reportable.* #d.next_action]]

#if d.parameters.len() > 0 [
  == Results
  #grid(columns: (1fr,) * calc.min(4, d.parameters.len()), row-gutter: 8pt, ..d.parameters.map(p => block[
    #text(8.5pt, fill: soft)[#p.symbol, #p.name] \
    #text(17pt, weight: 600)[#p.text] #if p.text != "NP" [#text(fill: soft, p.unit)] \
    #text(7.5pt, fill: soft)[#p.rounding#if p.basis != "" and p.rounding != "" [, ]#p.basis]
  ]))
]

#for t in d.tables [
  == Readings: #t.title
  #table(columns: (auto,) + (1fr,) * (t.head.len() - 1), align: (x, y) => if x == 0 { left } else { right },
    stroke: (x, y) => if y > 0 { (top: rule) }, inset: (x: 4pt, y: 3.6pt),
    table.header(..t.head.map(h => text(8.5pt, fill: soft, h))),
    ..t.rows.enumerate().map(((i, r)) => r.map(c => if t.out.at(i) { strike(text(fill: soft, c)) } else { c })).flatten())
]
#for line in d.left_out [#text(9pt)[#line. ]]
#if d.singles.len() > 0 [#v(3pt) #pairs(d.singles)]

#for (i, title) in d.figures.enumerate() [
  #block(breakable: false, above: 10pt)[#heading(level: 2, title) #image("figure-" + str(i) + ".svg", width: 100%, height: 82mm, fit: "contain", alt: title)]
]

#if d.findings.len() > 0 [
  == Findings
  #for f in d.findings [- *#f.severity:* #f.message #text(fill: soft, f.action)]
]
#if d.settings.len() > 0 [
  == Chosen otherwise than the default
  #pairs(d.settings)
]
#block(breakable: false, above: 12pt, width: 100%)[
  #line(length: 100%, stroke: rule)
  #if d.equipment.len() > 0 [#text(fill: soft)[Equipment:] #d.equipment.join(", ") \ ]
  #v(2pt)
  #grid(columns: (1fr, 1fr), column-gutter: 24pt,
    [#text(fill: soft)[recorded] \ #d.recorded #text(fill: soft, d.recorded_at) #v(5pt) #line(length: 100%, stroke: rule)],
    [#text(fill: soft)[checked] \ #if d.checked != "" [#d.checked #text(fill: soft, d.checked_at)] else [not yet] #v(5pt) #line(length: 100%, stroke: rule)])
  #text(8pt, fill: soft)[#d.cautions.join(" ")]
]

#if d.derivation.len() > 0 [
  #pagebreak()
  == Derivation
  #for s in d.derivation [
    #block(breakable: false, below: 7pt)[
      #text(fill: soft)[#s.about] \
      #s.formula \
      #h(10pt) = #s.put_in \
      #h(10pt) *#s.symbol = #s.result #s.unit* #h(6pt) #text(8pt, fill: soft, s.basis)
    ]
  ]
]
