namespace AnchorBend.Numerics.Integration;

public sealed unsafe partial class Radau5
{
    /// <summary>How many times what Newton's method may leave a state can be off before a step is made again.</summary>
    const double Tolerated = 10;

    /// <summary>A change of a state, in its scale, after which another is wanted.</summary>
    const double LongChange = 10;

    /// <summary>Rounding of a derivative, in units of what its terms make together.</summary>
    const double RoundingOfSlope = 8 * 2.2e-16;

    // The slope of the collocation polynomial at the end of the step, in terms of the stages.
    static readonly double End1 = EndWeight(1, 0, 0),
        End2 = EndWeight(0, 1, 0),
        End3 = EndWeight(0, 0, 1);

    static double EndWeight(double z1, double z2, double z3)
    {
        double c1m1 = C1 - 1,
            c2m1 = C2 - 1;
        var a = (z2 - z3) / c2m1;
        var k = (z1 - z2) / (C1 - C2);
        var b = (k - a) / c1m1;
        return a - c2m1 * (b - c1m1 * (b - (k - z1 / C1) / C2));
    }

    double EndRate(int i) => End1 * z1[i] + End2 * z2[i] + End3 * z3[i];

    /// <summary>
    /// Whether the iteration stands still though its changes are small: where a contact opens, a Jacobian of the closed one divides what is
    /// left of the equations by a stiffness that is not there any more, and both the changes and the error estimate, which goes through the
    /// same matrix, look small. The last change made each equation at the end of the step smaller by some factor; had all further changes
    /// that factor, they would add up to what is compared here. Leaves the slope at the end in <see cref="f3"/>.
    /// </summary>
    bool NewtonStagnated(double h, double end, int n)
    {
        for (var i = 0; i < n; i++)
            trial[i] = x[i] + z3[i];
        Evaluate(end, trial, f3);
        endIsLast = true;
        var isFilled = false;
        for (var i = 0; i < n; i++)
        {
            double before = Math.Abs(defect[i]),
                after = Math.Abs(f3[i] - EndRate(i) / h);
            // A long change may have come from where the equations are others: what it took off them tells nothing.
            var left =
                after >= before || Math.Abs(change[i]) > LongChange * sc[i]
                    ? double.PositiveInfinity
                    : Math.Abs(change[i]) * after / (before - after);
            // Without any stiffness the equations themselves tell how far the state is off.
            if (Math.Min(left, h * after) <= Tolerated * newtonTolerance * sc[i])
                continue;
            if (!isFilled)
                FillRounding(n);
            isFilled = true;
            // A slope that is no number is no solution either.
            if (!(after <= rounding[i]))
                return true;
        }

        return false;
    }

    /// <summary>What rounding of the states makes of each derivative.</summary>
    void FillRounding(int n)
    {
        for (var i = 0; i < n; i++)
            rounding[i] = RoundingOfSlope * Math.Abs(f3[i]);
        var pattern = System.JacobianPattern;
        for (var column = 0; column < n; column++)
        {
            var size = RoundingOfSlope * (Math.Abs(x[column]) + scale.Absolute[column] / scale.Relative);
            for (var p = pattern.Starts[column]; p < pattern.Starts[column + 1]; p++)
                rounding[pattern.Rows[p]] += Math.Abs(jacobian[p]) * size;
        }
    }
}
