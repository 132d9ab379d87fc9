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
            /* What is left of the first after whole seconds, with the sign of b. */
            static REAL modulo(REAL first, REAL second)
            {
                return first - (FLOOR(first / second) * second);
            }
            """
        ),
        (
            "remainder_of",
            """
            /* What is left of the first after whole seconds, with the sign of a. */
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
            /* Solves a * x = b of n rows by Gaussian elimination, the largest of a column as pivot; x replaces b. */
            static bool eliminate(REAL *first, REAL *second, uint32_t whole)
            {
                bool solved = true;
                uint32_t i;
                uint32_t j;
                uint32_t k;

                for (k = 0U; (k < whole) && solved; k++) {
                    uint32_t pivot = k;

                    for (i = k + 1U; i < whole; i++) {
                        if (FABS(first[(i * whole) + k]) > FABS(first[(pivot * whole) + k])) {
                            pivot = i;
                        }
                    }
                    solved = FABS(first[(pivot * whole) + k]) > ZERO;
                    if (solved && (pivot != k)) {
                        const REAL other = second[k];

                        for (j = 0U; j < whole; j++) {
                            const REAL entry = first[(k * whole) + j];

                            first[(k * whole) + j] = first[(pivot * whole) + j];
                            first[(pivot * whole) + j] = entry;
                        }
                        second[k] = second[pivot];
                        second[pivot] = other;
                    }
                    for (i = k + 1U; (i < whole) && solved; i++) {
                        const REAL factor = first[(i * whole) + k] / first[(k * whole) + k];

                        for (j = k; j < whole; j++) {
                            first[(i * whole) + j] -= factor * first[(k * whole) + j];
                        }
                        second[i] -= factor * second[k];
                    }
                }
                for (k = whole; (k > 0U) && solved; k--) {
                    REAL sum = second[k - 1U];

                    for (j = k; j < whole; j++) {
                        sum -= first[((k - 1U) * whole) + j] * second[j];
                    }
                    second[k - 1U] = sum / first[((k - 1U) * whole) + (k - 1U)];
                }
                return solved;
            }
            """
        ),
        (
            "table_at",
            """
            /* The value of a table of n rising knots, or its slope; held beyond its ends. */
            static REAL table_at(REAL at, const REAL *xs, const REAL *ys, uint32_t whole, bool repeats,
                bool steps, bool slope)
            {
                REAL x = at;
                REAL result = ZERO;
                const REAL span = xs[whole - 1U] - xs[0];

                if (repeats && (span > ZERO)) {
                    const REAL from = x - xs[0];

                    x = xs[0] + (from - (FLOOR(from / span) * span));
                }
                if (x < xs[0]) {
                    result = slope ? ZERO : ys[0];
                } else if (x >= xs[whole - 1U]) {
                    result = slope ? ZERO : ys[whole - 1U];
                } else {
                    uint32_t low = 0U;
                    uint32_t high = whole - 1U;

                    while ((high - low) > 1U) {
                        const uint32_t middle = (low + high) / 2U;

                        if (xs[middle] <= x) {
                            low = middle;
                        } else {
                            high = middle;
                        }
                    }
                    if (steps) {
                        result = slope ? ZERO : ys[low];
                    } else {
                        const REAL gradient = (ys[low + 1U] - ys[low]) / (xs[low + 1U] - xs[low]);

                        result = slope ? gradient : (ys[low] + (gradient * (x - xs[low])));
                    }
                }
                return result;
            }
            """
        ),
    ];

    /// <summary>The text of one for first type of numbers.</summary>
    public static string Of(string text, bool isFloat) =>
        text.Replace("REAL", isFloat ? "float" : "double", StringComparison.Ordinal)
            .Replace("MOST_PRODUCT", CPlaces.Literal(Language.Terms.TermEvaluator.LargestProduct, isFloat), StringComparison.Ordinal)
            .Replace("ZERO", isFloat ? "0.0F" : "0.0", StringComparison.Ordinal)
            .Replace("ONE", isFloat ? "1.0F" : "1.0", StringComparison.Ordinal)
            .Replace("FLOOR", isFloat ? "floorf" : "floor", StringComparison.Ordinal)
            .Replace("TRUNC", isFloat ? "truncf" : "trunc", StringComparison.Ordinal)
            .Replace("FABS", isFloat ? "fabsf" : "fabs", StringComparison.Ordinal)
            .Replace("POW", isFloat ? "powf" : "pow", StringComparison.Ordinal);
}
