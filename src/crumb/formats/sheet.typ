// Practice sheets, black on white. The data lies beside this file; see sheets.py for its shape.
#let data = json("data.json")
#let ink = rgb("#111111")
#let soft = rgb("#444444")
#set document(title: "Practice sheets")
#set text(font: "Libertinus Serif", size: 10.5pt, fill: ink, lang: "en")
#set par(leading: 0.55em)
#show heading.where(level: 1): set text(size: 17pt)
#show heading.where(level: 2): set text(size: 13.5pt)
#show heading.where(level: 3): set text(size: 11.5pt)
#show heading: set block(above: 0.9em, below: 0.5em)

#let music(file, alt) = image(file, width: 100%, alt: alt)
#let tick = box(width: 3.2mm, height: 3.2mm, stroke: 0.6pt + ink, baseline: 0.5mm)

#let ladder(rungs, beat) = {
  if rungs.len() == 0 { return }
  text(size: 9pt, fill: soft)[Tick a tempo when one whole cycle was clean. #beat =]
  v(-0.2em)
  set par(leading: 0.75em)
  for rung in rungs {
    box(inset: (right: 3.4mm))[#tick#h(1.2mm)#rung]
  }
}

#let step(one, number, named) = block(breakable: false, width: 100%, above: 0.7em)[
  #if named [
    #text(weight: "semibold")[#number. #one.name]#if one.count != "" [ #h(1mm) #one.count]#if one.burst != "" [ #h(1mm) #text(fill: soft, one.burst)]
    #if one.say != "" { linebreak(); text(size: 9.5pt, fill: soft, one.say) }
  ] else [#text(weight: "semibold", one.name)]
  #if one.svg != "" { v(-0.4em); music(one.svg, one.name) }
]

#let drill(one) = {
  if one.title != "" {
    heading(level: 3)[#one.title#if one.minutes != "" [ #h(1fr) #text(weight: "regular", size: 10.5pt)[#one.minutes a day#if one.role != "" [, #one.role]]]]
    text(fill: soft)[#one.how]
  }
  for (i, s) in one.steps.enumerate() { step(s, i + 1, one.title != "") }
  v(0.2em)
  ladder(one.rungs, one.beat)
  if one.clean != "" {
    block(above: 0.6em)[#text(size: 9.5pt)[*Clean means:* #one.clean]]
  }
}

#for (n, sheet) in data.sheets.enumerate() {
  set page(
    paper: data.paper,
    margin: (x: 17mm, top: if sheet.objectives.len() > 0 { 20mm } else { 15mm }, bottom: 17mm),
    header: if sheet.objectives.len() > 0 {
      set text(size: 9pt, fill: soft)
      [*In this piece:* #sheet.objectives.join("; ")]
    },
    numbering: "1",
    footer: context {
      set text(size: 8.5pt, fill: soft)
      [#sheet.name#if sheet.code != "" [, sheet #sheet.code] #h(1fr) #counter(page).display()]
    },
  )
  counter(page).update(1)
  if sheet.code == "" {
    heading(level: 1, sheet.name)
  } else {
    grid(
      columns: (1fr, 22mm),
      column-gutter: 5mm,
      [
        #heading(level: 1)[#sheet.name]
        #text(size: 12pt)[#sheet.piece, #sheet.part] \
        #sheet.section. Due #sheet.due. #sheet.minutes minutes a day. \
        #v(0.1em)
        #text(fill: soft)[Tick what was done, hand the sheet in, or type the ticks in yourself. Code:]
        #text(weight: "bold", size: 12pt, tracking: 0.08em)[#sheet.code]
      ],
      if sheet.qr != "" { image(sheet.qr, width: 22mm, alt: "Code " + sheet.code) },
    )
    line(length: 100%, stroke: 0.6pt + ink)
  }
  for chunk in sheet.chunks {
    if sheet.code != "" { heading(level: 2, chunk.label) }
    if chunk.svg != "" { music(chunk.svg, chunk.label) } else if sheet.code != "" {
      text(fill: soft)[Play it from your own part.]
    }
    for d in chunk.drills { drill(d) }
  }
  if sheet.cautions.len() > 0 or sheet.code != "" {
    block(width: 100%, stroke: (top: 0.6pt + ink), inset: (top: 2mm), above: 1.2em, breakable: false)[
      #set text(size: 9.5pt)
      #if sheet.arrow [→ after a place: run into the next note and stop on it. \ ]
      #for c in sheet.cautions [#c ]
      Pain, numbness or tingling: stop, rest, tell your teacher; a clinician decides what it is.
      Five minutes off after half an hour.
    ]
  }
  if n + 1 < data.sheets.len() { pagebreak(weak: true) }
}
