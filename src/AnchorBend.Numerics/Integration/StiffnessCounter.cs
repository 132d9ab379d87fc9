using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;

namespace AnchorBend.Numerics.Integration;

/// <summary>An explicit method that watches whether stability rather than accuracy sets its step.</summary>
public interface IStiffnessWatch
{
    /// <summary>Whether it does; without it nothing is noted.</summary>
    bool WatchesStiffness { get; set; }

    /// <summary>Recent steps at the border of stability, without a longer stretch of others in between.</summary>
    int StiffSteps { get; }

    /// <summary>The last step times the dominant eigenvalue met in it.</summary>
    double StepTimesEigenvalue { get; }

    /// <summary>How much the slope changed over the last step, as a part of itself: the step times the rate at which the solution
    /// turns.</summary>
    double Turning { get; }

    void ForgetStiffness();
}

/// <summary>
/// Counts steps at the border of stability: the quotient of two slopes' and their arguments' difference estimates the dominant eigenvalue
/// for nothing (Hairer and Wanner, "Solving Ordinary Differential Equations II", 2nd ed., section IV.2).
/// </summary>
unsafe struct StiffnessCounter
{
    int calm;

    public int Steps { get; private set; }

    /// <summary>Step times eigenvalue.</summary>
    public double Product { get; private set; }

    /// <summary>Change of the slope as a part of itself.</summary>
    public double Turning { get; private set; }

    public void Forget() => Steps = calm = 0;

    /// <summary>
    /// Step times eigenvalue above which stability sets the step. Controllers settle well inside the border (3.3 and 6 on the real axis for
    /// the orders 5 and 8), and steps that accuracy sets stay below 1.5 at all tolerances of use.
    /// </summary>
    const double Border = 2;

    public void Transfer(StateArchive archive)
    {
        var (steps, product, turning) = (Steps, Product, Turning);
        archive.Transfer(ref calm);
        archive.Transfer(ref steps);
        archive.Transfer(ref product);
        archive.Transfer(ref turning);
        (Steps, Product, Turning) = (steps, product, turning);
    }

    /// <summary>Notes one step: the slope at its start, and those at two arguments of its end.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Note(double h, double* start, double* slopeA, double* slopeB, double* argumentA, double* argumentB, int n)
    {
        double slopes = 0,
            arguments = 0,
            changes = 0,
            sizes = 0;
        var i = 0;
        if (n > 4)
        {
            // Always four lanes, so that the sums do not depend on the machine.
            Vector256<double> s4 = default,
                a4 = default,
                c4 = default,
                z4 = default;
            for (; i <= n - 4; i += 4)
            {
                Vector256<double> at = Vector256.Load(slopeA + i),
                    first = Vector256.Load(start + i),
                    s = at - Vector256.Load(slopeB + i),
                    a = Vector256.Load(argumentA + i) - Vector256.Load(argumentB + i),
                    change = at - first;
                s4 += s * s;
                a4 += a * a;
                c4 += change * change;
                z4 += first * first;
            }

            (slopes, arguments, changes, sizes) = (Vector256.Sum(s4), Vector256.Sum(a4), Vector256.Sum(c4), Vector256.Sum(z4));
        }

        for (; i < n; i++)
        {
            double s = slopeA[i] - slopeB[i],
                a = argumentA[i] - argumentB[i],
                change = slopeA[i] - start[i];
            slopes += s * s;
            arguments += a * a;
            changes += change * change;
            sizes += start[i] * start[i];
        }

        Product = arguments > 0 ? h * Math.Sqrt(slopes / arguments) : 0;
        Turning = sizes > 0 ? Math.Sqrt(changes / sizes) : 0;
        if (Product > Border)
        {
            calm = 0;
            Steps++;
        }
        else if (++calm >= 6)
        {
            Steps = 0;
        }
    }
}
