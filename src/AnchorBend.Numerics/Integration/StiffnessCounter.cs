namespace AnchorBend.Numerics.Integration;

/// <summary>An explicit method that watches whether stability rather than accuracy sets its step.</summary>
public interface IStiffnessWatch
{
    /// <summary>Recent steps at the border of stability, without a longer stretch of others in between.</summary>
    int StiffSteps { get; }
}

/// <summary>
/// Counts steps at the border of stability: the quotient of two slopes' and their arguments' difference estimates the dominant eigenvalue
/// for nothing (Hairer and Wanner, "Solving Ordinary Differential Equations II", 2nd ed., section IV.2).
/// </summary>
unsafe struct StiffnessCounter
{
    int calm;

    public int Steps { get; private set; }

    public void Note(double h, double* slopeA, double* slopeB, double* argumentA, double* argumentB, int n, double border)
    {
        double slopes = 0, arguments = 0;
        for (var i = 0; i < n; i++)
        {
            double s = slopeA[i] - slopeB[i], a = argumentA[i] - argumentB[i];
            slopes += s * s;
            arguments += a * a;
        }

        if (h * h * slopes > border * border * arguments)
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
