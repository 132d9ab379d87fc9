using System.Numerics;

namespace AnchorBend.Design;

/// <summary>A controller with its gains, as a loop is made of it: it takes a set-point r and a measured value y.</summary>
public abstract record LoopController
{
    /// <summary>
    /// Sample time of a controller that works at samples, s; 0 for a continuous one. All of a sampled loop is looked at on the plane of
    /// the bilinear transformation (<see cref="SampledPlane"/>), on which it is a continuous one.
    /// </summary>
    public double Period { get; init; }

    /// <summary>Of its form.</summary>
    public abstract string Name { get; }

    /// <summary>Its form in a sentence, after an article.</summary>
    public virtual string Told => $"{Name} controller";

    public abstract bool HasIntegral { get; }

    /// <summary>What s C(s) comes to at zero: the integral of the error of a unit load step is its inverse; 0 without an integral
    /// part.</summary>
    public abstract double IntegralGain { get; }

    /// <summary>Feedback transfer function from the measured value to the output, sign left out.</summary>
    public abstract Complex Feedback(Complex s);

    /// <summary>The same as a linear system.</summary>
    public abstract LinearController Realised();

    /// <summary>The open loop L = C·G as a linear system: plant behind the feedback path.</summary>
    public LinearSystem OpenLoop(LinearSystem plant) => Realised().Connect(plant, LinearController.Entry.Open);

    /// <summary>The closed loop from set-point to measured value, with all weights of the set-point.</summary>
    public LinearSystem ClosedLoop(LinearSystem plant) => Realised().Connect(plant, LinearController.Entry.SetPoint);

    /// <summary>The closed loop from a load, which is added to the controller's output, to the measured value.</summary>
    public LinearSystem LoadedLoop(LinearSystem plant) => Realised().Connect(plant, LinearController.Entry.Load);

    /// <summary>The closed loop from set-point to the controller's output.</summary>
    public LinearSystem Effort(LinearSystem plant) => Realised().Connect(plant, LinearController.Entry.SetPoint, asksForOutput: true);
}
