// The report on two pages. The data come as JSON beside this file, with the pictures.
#let report = json("report.json")
#let size = float(sys.inputs.at("size", default: "10")) * 1pt
#set document(title: report.title, author: "Frequens")
#set page(
  paper: "a4",
  margin: (x: 1.8cm, top: 1.6cm, bottom: 1.5cm),
  footer: context text(0.8em, fill: rgb("#4f5e64"))[
    #report.title, #report.facts
    #h(1fr) #counter(page).display(report.pages, both: true)
  ],
)
#set text(font: ("Libertinus Serif", "DejaVu Sans"), size: size, lang: report.language, fill: rgb("#17262b"))
#set par(justify: false, leading: 0.55em, spacing: 0.7em)
#set table(stroke: none, inset: (x: 0pt, y: 0.28em), column-gutter: 0.9em)
#show heading: it => block(
  above: 1.3em,
  below: 0.6em,
  width: 100%,
  stroke: (top: 0.6pt),
  inset: (top: 0.45em),
  text(0.8em, weight: "semibold", it.body),
)
#let soft(body) = text(fill: rgb("#4f5e64"), body)
#let lines(items) = list(marker: [–], spacing: 0.5em, ..items.map(item => [#item]))

#text(1.75em)[#report.title]
#v(-0.6em)
#soft[#report.facts#if report.reader != "" [. #report.reader]]

#v(0.4em)
#text(1.3em, weight: "semibold")[#report.verdict]
#if report.words != "" [#block(inset: (left: 0.8em), stroke: (left: 1pt), report.words)]
#if report.ease.len() > 0 { lines(report.ease) }
#if report.reasons.len() > 0 { lines(report.reasons) }

= #report.headings.splits
#table(
  columns: (1fr,) + (auto,) * 7,
  align: (left,) + (right,) * 7,
  ..report.split_heads.map(h => soft(text(0.88em, h))),
  table.hline(stroke: 0.4pt),
  ..report.splits.flatten().map(cell => [#cell]),
)

= #report.headings.timing
#if report.timing_svg [#image("timing.svg", width: 100%)]
#report.timing.join(" ")

= #report.headings.rate
#if report.rate_svg [#image("rate.svg", width: 100%)]
#report.rate.join(" ")

#if report.ways.len() > 0 [
  = #report.headings.ways
  #lines(report.ways)
]

= #report.headings.plan
#if report.goal != "" [#report.goal ]
#soft(report.how)
#if report.steps.len() > 0 {
  table(
    columns: (auto, auto, 1fr, auto),
    ..for step in report.steps {
      let weight = if step.at(4) != "" { "semibold" } else { "regular" }
      (
        soft(step.at(0)),
        text(weight: weight, step.at(1)),
        [#step.at(2)],
        soft(text(0.88em)[#step.at(3)]),
      )
    },
  )
}

#if report.pictures.len() > 0 [
  = #report.headings.pictures
  #grid(
    columns: (1fr,) * calc.max(3, report.pictures.len()),
    gutter: 0.8em,
    ..report.pictures.map(picture => [
      #image(picture.file, width: 100%, alt: picture.caption)
      #v(-0.5em)
      #text(0.82em, picture.caption)
    ]),
  )
]

#if report.notes.len() > 0 [
  = #report.headings.notes
  #lines(report.notes.map(note => note.at(0) + ": " + note.at(1)))
]

#if report.coming.len() > 0 [
  = #report.headings.coming
  #lines(report.coming)
]

#if report.cautions.len() > 0 [
  = #report.headings.cautions
  #lines(report.cautions)
]

= #report.headings.method
#text(0.9em, report.method.join(" "))
#context [#metadata(counter(page).final().first()) <pages>]
