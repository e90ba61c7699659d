"""Weights for finding phrases, made by tools/learn_phrases.py; do not edit by hand.

Learned from two thirds of the files of the Essen folk-song collection in ABC (as the
music21 package ships it); log-odds, larger speaks more for a phrase.
"""

from crumb.core.split.phrasing import Weights

WEIGHTS = Weights(
    bias=-6.259,
    local=(
        2.316,  # rest
        0.543,  # rest_length
        0.512,  # length
        0.039,  # longer_than_before
        0.289,  # longer_than_after
        0.601,  # longest_of_8
        0.850,  # not_shorter_of_8
        0.890,  # longest_of_16
        0.275,  # not_shorter_of_16
        1.751,  # leap
        0.415,  # widest_step
        1.035,  # same_pitch
        0.291,  # up
        -0.210,  # up_a_fourth
        0.729,  # into_falling
        0.940,  # starts_like_the_first
        -0.330,  # downbeat
        0.205,  # on_beat
        -0.866,  # last_on_downbeat
        0.636,  # last_on_beat
        0.829,  # last_in_the_middle
        0.400,  # place_follows_long
        -0.105,  # place_follows_longest
        -0.882,  # whole_measures
        2.817,  # two_measures
        0.140,  # four_measures
        -3.614,  # near_the_end
        -3.660,  # near_the_start
        -0.856,  # rather_near_the_end
        -2.717,  # rather_near_the_start
        0.331,  # last_on_tonic
        0.267,  # last_on_fifth
        0.230,  # last_on_second
        0.315,  # last_on_third
        0.234,  # first_pitch_again
        0.691,  # figure_again
        0.530,  # opening_again
        0.207,  # rhythm_again
        0.450,  # opening_rhythm_again
        0.143,  # opening_start_again
        0.178,  # goal_of_a_run
        -0.292,  # inside_a_run
        0.951,  # two_measures_again
    ),
    notes=(
        -2.451,
        -3.006,
        -1.462,
        -0.557,
        -0.481,
        0.466,
        0.975,
        1.441,
        1.123,
        1.019,
        0.718,
        0.769,
        0.510,
        0.669,
        0.364,
        0.750,
        0.038,
        0.138,
        -0.098,
        0.221,
        -0.434,
        0.148,
        -0.276,
        -0.825,
    ),
    measures=(
        0.036,  # 0.5
        -0.883,  # 0.75
        -0.650,  # 1
        0.032,  # 1.5
        0.038,  # 2
        0.264,  # 2.5
        0.390,  # 3
        0.083,  # 3.5
        0.541,  # 4
        0.655,  # 5
        -0.283,  # 6
        -0.099,  # 8
        0.261,  # uneven
        -0.625,  # longer
    ),
    alike=(0.374, -1.168, 0.582),
)
