\version "2.24.0"
% Three parts of an invented march in one file, as a publisher sends them. Made with: lilypond ridge_parts.ly
\header { title = "Ridge March" tagline = ##f }
\paper { #(set-paper-size "a4") }
tune = { \repeat unfold 14 { f'4 g' a'8 bes' c''4 } }
run = { \repeat unfold 20 { f'16 g' a' bes' c''4 f'2 } }
trio = { \repeat unfold 17 { a'4 b' c'' } }
first = { \key f \major \time 4/4 \partial 4 c'8 d' \repeat volta 2 { \tune }
  \mark \default R1*8 \run \mark \default \time 3/4 R2.*4 \trio \bar "|." }
second = { \key f \major \time 4/4 \partial 4 c'4 \repeat volta 2 { \tune }
  \mark \default R1*8 \run \mark \default \time 3/4 R2.*4 \trio
  \mark \default \time 4/4 \tune \tune \run \bar "|." }
brass = { \key f \major \time 4/4 \partial 4 c'4 \repeat volta 2 { \tune }
  \mark \default R1*28 \mark \default \time 3/4 R2.*4 \trio \bar "|." }
printed = #(define-music-function (music) (ly:music?)
  #{ \compressMMRests { \set Score.rehearsalMarkFormatter = #format-mark-box-alphabet #music } #})
\bookpart { \header { instrument = "Clarinet 1" } \score { \new Staff { \printed \first } } }
\bookpart { \header { instrument = "Clarinet 2" } \score { \new Staff { \printed \second } } }
\bookpart { \header { instrument = "Trumpet" } \score { \new Staff { \printed \brass } } }
