namespace AnchorBend.Numerics.Integration;

// What the values between the ends of a step may err, for runs that look there.
public sealed unsafe partial class Radau5
{
    /// <summary>A point of the step between its nodes, where the polynomial is farthest from what it follows.</summary>
    const double Between = 0.4;

    /// <summary>
    /// The error of the collocation polynomial within the step, about <c>h⁴x⁗/1000</c> (the integral of its nodes' polynomial), with the
    /// fourth derivative from the change of the third since the last step; as a part of the tolerance asked for.
    /// </summary>
    double DenseOutputError(double t, double h, int n)
    {
        if (!haveHistory)
            return DenseOutputDefect(t, h, n);
        double c1m1 = C1 - 1,
            c2m1 = C2 - 1,
            c1mc2 = C1 - C2;
        var sum = 0.0;
        var old = 6 / (lastStep * lastStep * lastStep);
        var fresh = 6 / (h * h * h);
        var distance = (h + lastStep) / 2;
        for (var i = 0; i < n; i++)
        {
            var a = (z2[i] - z3[i]) / c2m1;
            var k = (z1[i] - z2[i]) / c1mc2;
            var third = ((k - a) / c1m1 - (k - z1[i] / C1) / C2) * fresh;
            var fourth = (third - p3[i] * old) / distance;
            var error = 1e-3 * fourth * h * h * h * h / insideScale.At(i, x[i]);
            sum += error * error;
        }

        return Math.Sqrt(sum / Math.Max(1, n));
    }

    /// <summary>
    /// The same error where no earlier step tells of the fourth derivative: what is left of the equations at a point between the nodes,
    /// through the iteration matrix, which makes it an error of the states whether they are stiff (then it is the distance from where the
    /// fast motion rests) or not (then about what this error of the slope makes of the values).
    /// </summary>
    double DenseOutputDefect(double t, double h, int n)
    {
        const double s = Between - 1;
        double c1m1 = C1 - 1,
            c2m1 = C2 - 1,
            c1mc2 = C1 - C2;
        for (var i = 0; i < n; i++)
        {
            var a = (z2[i] - z3[i]) / c2m1;
            var k = (z1[i] - z2[i]) / c1mc2;
            var b = (k - a) / c1m1;
            var c = b - (k - z1[i] / C1) / C2;
            var inner = b + (s - c1m1) * c;
            trial[i] = x[i] + z3[i] + s * (a + (s - c2m1) * inner);
            change[i] = (a + (s - c2m1) * inner + s * (inner + (s - c2m1) * c)) / h;
        }

        Evaluate(t + Between * h, trial, defect);
        endIsLast = false;
        for (var i = 0; i < n; i++)
            defect[i] -= change[i];
        real.Solve(defect);
        var sum = 0.0;
        for (var i = 0; i < n; i++)
        {
            var error = defect[i] / insideScale.At(i, x[i]);
            sum += error * error;
        }

        return Math.Sqrt(sum / Math.Max(1, n));
    }
}
