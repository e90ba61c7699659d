"""Weights for finding phrases, made by tools/learn_phrases.py; do not edit by hand.

Learned from two thirds of the files of the Essen folk-song collection in ABC (as the
music21 package ships it); log-odds, larger speaks more for a phrase.
"""

from crumb.core.split.phrasing import Weights

WEIGHTS = Weights(
    bias=-6.262,
    local=(
        2.322,  # rest
        0.537,  # rest_length
        0.517,  # length
        0.039,  # longer_than_before
        0.279,  # longer_than_after
        0.605,  # longest_of_8
        0.847,  # not_shorter_of_8
        0.891,  # longest_of_16
        0.275,  # not_shorter_of_16
        1.757,  # leap
        0.415,  # widest_step
        1.037,  # same_pitch
        0.291,  # up
        -0.213,  # up_a_fourth
        0.729,  # into_falling
        0.946,  # starts_like_the_first
        -0.329,  # downbeat
        0.210,  # on_beat
        -0.863,  # last_on_downbeat
        0.636,  # last_on_beat
        0.831,  # last_in_the_middle
        0.410,  # place_follows_long
        -0.106,  # place_follows_longest
        -0.892,  # whole_measures
        2.817,  # two_measures
        0.153,  # four_measures
        -3.618,  # near_the_end
        -3.664,  # near_the_start
        -0.856,  # rather_near_the_end
        -2.732,  # rather_near_the_start
        0.331,  # last_on_tonic
        0.267,  # last_on_fifth
        0.229,  # last_on_second
        0.314,  # last_on_third
        0.235,  # first_pitch_again
        0.689,  # figure_again
        0.799,  # opening_again
        0.206,  # rhythm_again
        0.461,  # opening_rhythm_again
        0.138,  # opening_start_again
    ),
    notes=(
        -2.682,
        -3.243,
        -1.361,
        -0.646,
        -0.567,
        0.511,
        1.015,
        1.475,
        1.160,
        1.042,
        0.737,
        0.820,
        0.593,
        0.864,
        0.453,
        0.742,
        0.126,
        -0.002,
        -0.117,
        0.352,
        -0.394,
        0.196,
        -0.256,
        -1.032,
    ),
    measures=(
        0.172,  # 0.5
        -1.039,  # 0.75
        -0.672,  # 1
        0.031,  # 1.5
        0.019,  # 2
        0.227,  # 2.5
        0.333,  # 3
        -0.003,  # 3.5
        0.604,  # 4
        0.701,  # 5
        -0.180,  # 6
        -0.139,  # 8
        0.299,  # uneven
        -0.566,  # longer
    ),
    alike=(0.403, -1.137, 0.571),
)
