// What every printed page of the laboratory shares. Everything printed comes from JSON; nothing is computed here.
#let soft = rgb("#444444")
#let rule = 0.5pt + rgb("#bbbbbb")

// Each part of a document begins with such a mark, on a page of its own.
#let begins(number) = [#metadata(number) <begins>]

// Among others a numbered sheet says which of its own pages this is.
#let page-of-its-sheet() = {
  let marks = query(<begins>)
  if marks.len() < 2 { return }
  let here = here().page()
  let at = marks.filter(m => m.location().page() <= here)
  if at.len() == 0 or at.last().value == "" { return }
  let (first, next) = (at.last().location().page(), marks.at(at.len(), default: none))
  let last = if next == none { counter(page).final().first() } else { next.location().page() - 1 }
  [sheet #at.last().value, page #(here - first + 1) of #(last - first + 1)#if here == last [, end of the sheet]]
}

// Which page of all this is. Of a long document set in stretches it is laid over the pages once they are counted.
#let page-words(d, this, last) = {
  [page #this of #last]
  if this == last [, end of the #if d.kind == "Report" [report] else [sheet]]
}
#let page-of(d) = page-words(d, counter(page).get().first(), counter(page).final().first())

#let family(d, body) = {
  let head = d.letterhead
  set document(title: d.title + " " + d.number, author: if head.name != "" { head.name } else { "Vadum" })
  set page(
    paper: "a4", margin: (x: 18mm, top: if head.name != "" or head.logo != "" { 28mm } else { 16mm }, bottom: 18mm),
    header: if head.name != "" or head.logo != "" {
      block(width: 100%, height: 14mm, stroke: (bottom: rule), inset: (bottom: 2mm), grid(
        columns: (auto, 1fr), column-gutter: 5mm, align: horizon,
        if head.logo != "" { image(head.logo, height: 11mm, fit: "contain", alt: "Mark of " + head.name) },
        [#text(10.5pt, weight: 700, head.name) #if head.address.len() > 0 [\ #text(
            8pt,
            fill: soft,
            head.address.join(" · "),
          )]],
      ))
    },
    footer: context text(8pt, fill: soft)[#d.kind #d.number#if d.state != "" [, #d.state] #h(1fr)
      #page-of-its-sheet() #h(1fr)
      #if d.at("stretch", default: false) { hide(page-of(d)) } else { page-of(d) }],
  )
  set text(font: ("Atkinson Hyperlegible Next", "DejaVu Sans"), size: 9.5pt, lang: "en")
  show heading.where(level: 1): it => block(below: 9pt, text(18pt, weight: 700, it.body))
  show heading.where(level: 2): it => block(above: 11pt, below: 5pt, text(10.5pt, weight: 700, it.body))
  show heading.where(level: 3): it => block(above: 9pt, below: 4pt, text(9.5pt, weight: 600, fill: soft, it.body))
  body
}

// Name and value side by side.
#let pairs(list, cols: 2) = grid(columns: (auto, 1fr) * cols, column-gutter: 8pt, row-gutter: 5pt,
  ..list.map(p => (text(fill: soft, p.at(0)), p.at(1))).flatten())

// A table with hairlines: numbers to the right, the first `words` columns to the left; struck rows are left out of use.
#let lines(head, rows, words: 1, columns: none, out: (), size: 9.5pt) = {
  set text(size)
  table(
    columns: if columns != none { columns }
      else if head.len() <= 3 { (auto,) * head.len() }
      else { (auto,) * words + (1fr,) * (head.len() - words) },
    column-gutter: if columns == none and head.len() <= 3 { 16pt } else { 0pt },
    align: (x, y) => if x < words { left } else { right },
    stroke: (x, y) => if y > 0 { (top: rule) }, inset: (x: 4pt, y: 3.6pt),
    table.header(..head.map(h => text(size - 1pt, fill: soft, h))),
    ..rows.enumerate().map(((i, r)) => if out.at(i, default: false) { r.map(c => strike(text(fill: soft, c))) } else { r })
      .flatten(),
  )
}

#let photograph(one) = [
  #image(one.file, width: 100%, height: 62mm, fit: "contain", alt: one.caption)
  #align(center, text(8pt, fill: soft, one.caption))
]

// A drawing, with the photographs that stand beside it.
#let figure-of(one, photographs: ()) = block(breakable: false, above: 10pt)[
  #heading(level: 2, one.title)
  #if photographs.len() == 0 { image(one.file, width: 100%, alt: one.description) } else {
    grid(columns: (1fr, 1fr), column-gutter: 14pt, row-gutter: 8pt,
      image(one.file, width: 100%, alt: one.description), ..photographs.map(photograph))
  }
]
