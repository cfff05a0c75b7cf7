// A test: what it gave, what was read, what was drawn, what was doubted, who did it.
#import "family.typ": *

#let signature(role, who, at) = [
  #text(fill: soft, role) \ #if who != "" [#who #text(fill: soft, at)] else [not yet]
  #v(5pt) #line(length: 100%, stroke: rule)
]

#let unit(p) = if p.text != "NP" { text(fill: soft, p.unit) }

#let test-sheet(d) = [
  = #d.title
  #v(-4pt)
  #text(fill: soft)[#if d.school != "" [#d.school. ]Follows #d.basis.]
  #line(length: 100%, stroke: 0.8pt)
  #pairs(d.particulars)

  #if d.state == "void" [#block(fill: rgb("#f0f0f0"), inset: 8pt, width: 100%)[*Void:* #d.void_reason]]
  #if not d.reportable [#block(stroke: 1.2pt + black, inset: 8pt, width: 100%)[*Not reportable.* #d.next_action]]

  #if d.moved.len() > 0 {
    block(stroke: 1.2pt + black, inset: 8pt, width: 100%)[
      *The ground of this check has moved.* #d.moved.join(". "). Check again, or keep it with a reason.
    ]
  }
  #if d.kept != "" [#block(stroke: 0.6pt + black, inset: 8pt, width: 100%)[#text(9pt)[#d.kept.]]]

  #if d.headline.len() > 0 [
    == Results
    #grid(columns: (1fr,) * d.headline.len(), column-gutter: 8pt, ..d.headline.map(p => block(breakable: false)[
      #text(8.5pt, fill: soft)[#p.symbol, #p.name] \
      #text(if p.text.len() > 12 { 10.5pt } else { 17pt }, weight: 600)[#p.text] #unit(p) \
      #if p.known != "" [#text(8pt)[#p.known] \ ]
      #text(7.5pt, fill: soft)[#p.rounding#if p.basis != "" and p.rounding != "" [, ]#p.basis]
    ]))
    #if d.further.len() > 0 {
      v(4pt)
      let half = calc.ceil(d.further.len() / 2)
      grid(columns: (1fr, 1fr), column-gutter: 16pt, ..d.further.chunks(half).map(some => table(
        columns: (1fr, auto), column-gutter: 8pt, align: (left, right), inset: (x: 0pt, y: 2.6pt),
        stroke: (x, y) => (top: rule),
        ..some.map(p => (
          text(8.5pt)[#p.symbol#text(fill: soft)[, #p.name]], text(9pt)[*#p.text* #unit(p) #p.known],
        )).flatten())))
    }
    #if d.together.lines.len() > 0 {
      v(4pt)
      let heads = d.together.columns.map(c => text(8.5pt, fill: soft, c))
      table(columns: (1fr,) + (auto,) * d.together.columns.len() + (auto,),
        column-gutter: 10pt, inset: (x: 0pt, y: 2.6pt),
        align: (x, y) => if x == 0 or x == d.together.columns.len() + 1 { left } else { right },
        stroke: (x, y) => if y > 0 { (top: rule) }, [], ..heads, [],
        ..d.together.lines.map(l => (text(8.5pt)[#l.at(0)#text(fill: soft)[, #l.at(1)]],
          ..l.at(3).map(t => text(9pt, weight: 600, t)), text(8.5pt, fill: soft, l.at(2)))).flatten())
    }
    #if d.known_notes.len() > 0 [#text(8pt, fill: soft)[#d.known_notes.join(" ")]]
  ]
  #if d.opinions.len() > 0 [
    == Opinions and values for design
    #text(8.5pt, fill: soft)[Drawn from the results by a rule; not measured, and not covered by the test's standard.]
    #for p in d.opinions [
      #block(above: 4pt, below: 4pt)[#text(8.5pt)[#p.symbol#text(fill: soft)[, #p.name]]
        #h(6pt) *#p.text* #unit(p) #p.known
        #if p.basis != "" [#h(6pt) #text(7.5pt, fill: soft, p.basis)]]
    ]
  ]

  #let standing-beside(one) = d.photographs.filter(p => p.beside == one.title)
  #if d.figures_first { for one in d.figures { figure-of(one, photographs: standing-beside(one)) } }
  #for t in d.tables [
    == Readings: #t.title
    #for some in t.blocks.chunks(t.beside) {
      let made = some.map(block => lines(t.head, block.map(r => r.cells), out: block.map(r => r.out),
        size: if t.head.len() > 10 { 8pt } else if t.beside > 1 { 8.5pt } else { 9.5pt }))
      // A grid lays out what it holds twice: to measure it, and to set it.
      block(breakable: t.beside == 1, below: 8pt, if t.beside == 1 { made.first() } else {
        grid(columns: (1fr,) * t.beside, column-gutter: 14pt, ..made)
      })
    }
  ]
  #for line in d.records [#text(9pt, fill: soft, line) \ ]
  #for line in d.left_out [#text(9pt)[#line. ]]
  #if d.singles.len() > 0 [#v(3pt) #pairs(d.singles)]

  #if not d.figures_first { for one in d.figures { figure-of(one, photographs: standing-beside(one)) } }
  #let others = d.photographs.filter(p => p.beside == "")
  #if others.len() > 0 [
    == Photographs
    #grid(columns: (1fr, 1fr), column-gutter: 14pt, row-gutter: 8pt, ..others.map(photograph))
  ]

  #if d.findings.len() > 0 [
    == Findings
    #for f in d.findings [- *#f.severity:* #f.message #text(fill: soft, f.action)]
  ]
  #if d.remarks != "" [
    == Remarks
    #for line in d.remarks.split("\n") [#line \ ]
  ]
  #if d.settings.len() > 0 [
    == Chosen otherwise than the default
    #pairs(d.settings)
  ]
  #block(breakable: false, above: 12pt, width: 100%)[
    #line(length: 100%, stroke: rule)
    #if d.leans.len() > 0 [#text(8.5pt)[#text(fill: soft)[Leans on:] #d.leans.join("; ")] \ ]
    #if d.equipment.len() > 0 [#text(8.5pt)[#text(fill: soft)[Equipment:] #d.equipment.join("; ")]]
    #if d.not_said.len() > 0 [\ #text(8.5pt)[#text(fill: soft)[Equipment not named:] #d.not_said.join(", ")]]
    #v(2pt)
    #grid(columns: (1fr, 1fr, 1fr), column-gutter: 16pt,
      signature("recorded", d.recorded, d.recorded_at),
      signature("checked", d.checked, d.checked_at),
      signature("issued", d.issued, d.issued_at))
    #text(8pt, fill: soft)[#(d.as_received, ..d.cautions).filter(said => said != "").join(" ")]
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
]
