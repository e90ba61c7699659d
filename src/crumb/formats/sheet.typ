// Practice sheets, black on white. The data lies beside this file; see sheets.py for its shape.
#let data = json("data.json")
#let ink = rgb("#000000")
#set document(title: "Practice sheets")
#set text(font: "Libertinus Serif", size: 11pt, fill: ink, lang: "en", number-type: "lining")
#set par(leading: 0.5em, spacing: 0.7em)
#show heading.where(level: 1): set text(size: 17pt)
#show heading.where(level: 2): set text(size: 13.5pt)
#show heading.where(level: 3): set text(size: 12pt)
#show heading: set block(above: 0.9em, below: 0.45em, sticky: true)

#let box-to-tick = box(width: 3.6mm, height: 3.6mm, stroke: 0.7pt + ink, baseline: 0.6mm)
#let token = box(width: 3.4mm, height: 3.4mm, radius: 1.7mm, stroke: 0.6pt + ink, baseline: 0.6mm)

#let ladder(rungs, beat) = {
  if rungs.len() == 0 { return }
  set par(leading: 0.75em)
  set text(number-width: "tabular")
  [#beat #h(0.4mm) = #h(1.5mm)]
  for rung in rungs {
    box(inset: (right: 4mm))[#box-to-tick#h(1.3mm)#rung]
  }
}

#let step(one, named) = {
  if named [*#one.number* #h(0.6mm) #one.name] else if one.svg == "" [#one.name] else [*#one.name*]
  if one.count != "" [ #one.count]
  if one.burst != "" [, #one.burst]
  for _ in range(one.tokens) { h(1mm); token }
  if one.svg != "" { v(-0.35em); image(one.svg, width: one.width * 1mm, alt: one.name) }
}

#let row(steps, named) = block(breakable: false, above: 0.9em, below: 0pt, width: 100%, grid(
  columns: steps.map(one => one.cell * 1mm),
  column-gutter: 5mm,
  ..steps.map(one => step(one, named)),
))

// A drill of one plain step that the sheet has explained above: one line with its ladder.
#let line-of(one) = block(breakable: false, above: 0.9em)[
  *#one.title* #h(1.5mm) #step(one.rows.first().first(), false) #h(1fr) #one.minutes#if one.role != "" [, #one.role]
  #block(above: 0.6em, ladder(one.rungs, one.beat))
]

#let drill(one) = {
  let named = one.title != ""
  if one.short and named and one.how == "" {
    line-of(one)
    return
  }
  if named {
    heading(level: 3)[#one.title#if one.minutes != "" [ #h(1fr) #text(weight: "regular", size: 11pt)[#one.minutes#if one.role != "" [, #one.role]]]]
    if one.how != "" or one.says.len() > 0 {
      block(sticky: true, below: 0.9em)[
        #one.how #if one.clean != "" [*Clean means:* #one.clean]
        #for (i, say) in one.says.enumerate() [#if i > 0 or one.how != "" { linebreak() }#say]
      ]
    }
  }
  if one.short and named {
    block(above: 0.7em, breakable: false)[
      #step(one.rows.first().first(), false)
      #block(above: 0.6em, ladder(one.rungs, one.beat))
    ]
    return
  }
  // Words stay with the first row and the ladder with the last; a page may turn between rows.
  for steps in one.rows.slice(0, -1) { block(above: 0.9em, row(steps, named)) }
  block(breakable: false, above: 0.9em)[
    #row(one.rows.last(), named)
    #if one.rungs.len() > 0 { block(above: 0.8em, ladder(one.rungs, one.beat)) }
  ]
}

#for (n, sheet) in data.sheets.enumerate() {
  set page(
    paper: data.paper,
    margin: (left: 13mm, right: 28mm, top: if sheet.objectives.len() > 0 { 18mm } else { 13mm }, bottom: 15mm),
    header: if sheet.objectives.len() > 0 {
      set text(size: 10pt)
      [*In this piece:* #sheet.objectives.join("; ")]
    },
    footer: context {
      set text(size: 9.5pt)
      [#sheet.name#if sheet.code != "" [, sheet #sheet.code] #h(1fr) #counter(page).display()]
    },
  )
  counter(page).update(1)
  if sheet.plain {
    heading(level: 1, sheet.name)
  } else {
    grid(
      columns: (1fr, if sheet.qr != "" { 20mm } else { 0mm }),
      column-gutter: 5mm,
      [
        #heading(level: 1)[#sheet.name]
        #text(size: 12pt)[#(sheet.piece, sheet.part).filter(it => it != "").join(", ")] \
        #(
          sheet.section,
          if sheet.due != "" { "Due " + sheet.due },
          if sheet.minutes > 0 { str(sheet.minutes) + " minutes a day" },
        ).filter(it => it != none and it != "").map(it => it + ".").join(" ")
        #if sheet.code != "" [
          Tick a tempo when one whole cycle was clean; hand the sheet in, or type the ticks in
          yourself. Code: #text(weight: "bold", size: 12pt, tracking: 0.08em)[#sheet.code]
        ] else [Tick a tempo when one whole cycle was clean.]
      ],
      if sheet.qr != "" { image(sheet.qr, width: 20mm, alt: "Code " + sheet.code) },
    )
    line(length: 100%, stroke: 0.7pt + ink)
  }
  for chunk in sheet.chunks {
    if chunk.label != "" { heading(level: 2, chunk.label) }
    if chunk.svg != "" {
      block(sticky: true, image(chunk.svg, width: chunk.width * 1mm, alt: chunk.label))
    } else if not sheet.plain [Play it from your own part.]
    for d in chunk.drills { drill(d) }
  }
  if not sheet.plain {
    block(width: 100%, stroke: (top: 0.7pt + ink), inset: (top: 2mm), above: 1em, breakable: false)[
      #set text(size: 10pt)
      #if sheet.arrow [→ after a place: run into the next note and stop on it. \ ]
      #for c in sheet.cautions [#c ]
      Pain, numbness or tingling: stop, rest, tell your teacher; a clinician decides what it is.
      Five minutes off after half an hour.
    ]
  }
  if n + 1 < data.sheets.len() { pagebreak(weak: true) }
}
