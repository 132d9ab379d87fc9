namespace AnchorBend.Delivery;

/// <summary>Functions that C has none of, as the code writes them for itself.</summary>
static class CHelpers
{
    /// <summary>Those that others use stand first.</summary>
    public static readonly IReadOnlyList<(string Name, string Text)> All =
    [
        (
            "least",
            """
            /* The smaller one of two numbers. */
            static REAL least(REAL first, REAL second)
            {
                return (first < second) ? first : second;
            }
            """
        ),
        (
            "greatest",
            """
            /* The greater one of two numbers. */
            static REAL greatest(REAL first, REAL second)
            {
                return (first > second) ? first : second;
            }
            """
        ),
        (
            "sign_of",
            """
            /* 1, 0 or -1. */
            static REAL sign_of(REAL first)
            {
                REAL result = ZERO;

                if (first > ZERO) {
                    result = ONE;
                } else if (first < ZERO) {
                    result = -ONE;
                } else {
                    /* nought, or no number */
                }
                return result;
            }
            """
        ),
        (
            "modulo",
            """
            /* What is left of the first after whole ones of the second, with the sign of that. */
            static REAL modulo(REAL first, REAL second)
            {
                return first - (FLOOR(first / second) * second);
            }
            """
        ),
        (
            "remainder_of",
            """
            /* What is left of the first after whole ones of the second, with its own sign. */
            static REAL remainder_of(REAL first, REAL second)
            {
                return first - (TRUNC(first / second) * second);
            }
            """
        ),
        (
            "power",
            """
            /* The first to the power of the second; whole powers by squaring and multiplying, from the highest bit down. */
            static REAL power(REAL first, REAL second)
            {
                REAL result = ONE;
                const REAL size = FABS(second);

                if ((FLOOR(second) != second) || (size > MOST_PRODUCT)) {
                    result = POW(first, second);
                } else if (size > ZERO) {
                    const uint32_t whole = (uint32_t)size;
                    uint32_t bit = 1U;

                    while ((bit << 1U) <= whole) {
                        bit <<= 1U;
                    }
                    result = first;
                    bit >>= 1U;
                    while (bit > 0U) {
                        result *= result;
                        if ((whole & bit) != 0U) {
                            result *= first;
                        }
                        bit >>= 1U;
                    }
                    if (second < ZERO) {
                        result = ONE / result;
                    }
                } else {
                    /* to the power of nought it is 1 */
                }
                return result;
            }
            """
        ),
        (
            "eliminate",
            """
            /* Solves matrix * x = right of so many rows by Gaussian elimination, the largest of a column as pivot; x replaces right. */
            static bool eliminate(REAL *matrix, REAL *right, uint32_t size)
            {
                bool solved = true;
                uint32_t row;
                uint32_t col;
                uint32_t at;

                for (at = 0U; (at < size) && solved; at++) {
                    uint32_t pivot = at;

                    for (row = at + 1U; row < size; row++) {
                        if (FABS(matrix[(row * size) + at]) > FABS(matrix[(pivot * size) + at])) {
                            pivot = row;
                        }
                    }
                    solved = FABS(matrix[(pivot * size) + at]) > ZERO;
                    if (solved && (pivot != at)) {
                        const REAL other = right[at];

                        for (col = 0U; col < size; col++) {
                            const REAL entry = matrix[(at * size) + col];

                            matrix[(at * size) + col] = matrix[(pivot * size) + col];
                            matrix[(pivot * size) + col] = entry;
                        }
                        right[at] = right[pivot];
                        right[pivot] = other;
                    }
                    for (row = at + 1U; (row < size) && solved; row++) {
                        const REAL factor = matrix[(row * size) + at] / matrix[(at * size) + at];

                        for (col = at; col < size; col++) {
                            matrix[(row * size) + col] -= factor * matrix[(at * size) + col];
                        }
                        right[row] -= factor * right[at];
                    }
                }
                for (at = size; (at > 0U) && solved; at--) {
                    REAL sum = right[at - 1U];

                    for (col = at; col < size; col++) {
                        sum -= matrix[((at - 1U) * size) + col] * right[col];
                    }
                    right[at - 1U] = sum / matrix[((at - 1U) * size) + (at - 1U)];
                }
                return solved;
            }
            """
        ),
        (
            "table_in",
            """
            /* The value at a place of the stretch of a table that another place is in, or its slope; held beyond the ends. */
            static REAL table_in(REAL at, REAL place, const REAL *xs, const REAL *ys, uint32_t size,
                bool steps, bool slope)
            {
                REAL result = ZERO;

                if (place < xs[0]) {
                    result = slope ? ZERO : ys[0];
                } else if (place >= xs[size - 1U]) {
                    result = slope ? ZERO : ys[size - 1U];
                } else {
                    uint32_t low = 0U;
                    uint32_t high = size - 1U;

                    while ((high - low) > 1U) {
                        const uint32_t middle = (low + high) / 2U;

                        if (xs[middle] <= place) {
                            low = middle;
                        } else {
                            high = middle;
                        }
                    }
                    if (steps) {
                        result = slope ? ZERO : ys[low];
                    } else {
                        const REAL gradient = (ys[low + 1U] - ys[low]) / (xs[low + 1U] - xs[low]);

                        result = slope ? gradient : (ys[low] + (gradient * (at - xs[low])));
                    }
                }
                return result;
            }
            """
        ),
        (
            "table_at",
            """
            /* The value of a table of rising knots, or its slope. */
            static REAL table_at(REAL at, const REAL *xs, const REAL *ys, uint32_t size, bool repeats,
                bool steps, bool slope)
            {
                REAL here = at;
                const REAL span = xs[size - 1U] - xs[0];

                if (repeats && (span > ZERO)) {
                    const REAL from = here - xs[0];

                    here = xs[0] + (from - (FLOOR(from / span) * span));
                }
                return table_in(here, here, xs, ys, size, steps, slope);
            }
            """
        ),
        (
            "table_held",
            """
            /* The same over time: on the stretch of the last step's beginning, and a knot is reached when only rounding is between. */
            static REAL table_held(REAL at, REAL since, const REAL *xs, const REAL *ys, uint32_t size,
                bool repeats, bool steps, bool slope)
            {
                REAL here = at;
                REAL place = since + (REACHED * FABS(since));
                const REAL span = xs[size - 1U] - xs[0];

                if (repeats && (span > ZERO)) {
                    REAL turns = FLOOR((place - xs[0]) / span) * span;

                    if ((place - turns) >= xs[size - 1U]) {
                        turns += span;
                    }
                    here -= turns;
                    place -= turns;
                    if (place < xs[0]) {
                        place = xs[0];
                    }
                }
                return table_in(here, place, xs, ys, size, steps, slope);
            }
            """
        ),
        (
            "earlier",
            """
            /* The earlier one of two instants, of which the second counts when it is later than a third one. */
            static REAL earlier(REAL first, REAL second, REAL than)
            {
                return ((second > than) && (second < first)) ? second : first;
            }
            """
        ),
        (
            "next_knot",
            """
            /* The first point of a table that is later than an abscissa, repeats counted on; infinite for none. */
            static REAL next_knot(REAL at, const REAL *xs, uint32_t size, bool repeats)
            {
                const REAL span = xs[size - 1U] - xs[0];
                REAL offset = (repeats && (span > ZERO)) ? (FLOOR((at - xs[0]) / span) * span) : ZERO;
                REAL found = INFINITY;
                uint32_t turn;
                uint32_t i;

                /* The product may round to just behind; the next turn then holds the answer. */
                for (turn = 0U; turn < (repeats ? 2U : 1U); turn++) {
                    for (i = 0U; i < size; i++) {
                        const REAL knot = xs[i] + offset;

                        if ((knot > (at + (REACHED * FABS(at)))) && (knot < found)) {
                            found = knot;
                        }
                    }
                    offset += span;
                }
                return found;
            }
            """
        ),
    ];

    /// <summary>The text of one for a type of numbers.</summary>
    public static string Of(string text, bool isFloat) =>
        text.Replace("REAL", isFloat ? "float" : "double", StringComparison.Ordinal)
            .Replace("MOST_PRODUCT", CPlaces.Literal(Language.Terms.TermEvaluator.LargestProduct, isFloat), StringComparison.Ordinal)
            .Replace("REACHED", CPlaces.Literal(Language.Terms.TableLookup.Reached, isFloat), StringComparison.Ordinal)
            .Replace("ZERO", isFloat ? "0.0F" : "0.0", StringComparison.Ordinal)
            .Replace("ONE", isFloat ? "1.0F" : "1.0", StringComparison.Ordinal)
            .Replace("FLOOR", isFloat ? "floorf" : "floor", StringComparison.Ordinal)
            .Replace("TRUNC", isFloat ? "truncf" : "trunc", StringComparison.Ordinal)
            .Replace("FABS", isFloat ? "fabsf" : "fabs", StringComparison.Ordinal)
            .Replace("POW", isFloat ? "powf" : "pow", StringComparison.Ordinal);
}
