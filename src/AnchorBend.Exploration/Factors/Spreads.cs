using MathNet.Numerics.Distributions;

namespace AnchorBend.Exploration.Factors;

/// <summary>Values of a list, each as likely as another: numbers, texts, alternatives, whatever they stand for.</summary>
/// <param name="Count">How many there are.</param>
public sealed record ListedSpread(int Count) : FactorSpread
{
    public override FactorLevel At(double share) => FactorLevel.Listed(Math.Min((int)(share * Count), Count - 1));

    public override IReadOnlyList<FactorLevel> Levels => [.. Enumerable.Range(0, Count).Select(FactorLevel.Listed)];

    public override void Check(string name)
    {
        if (Count < 1)
            throw Wrong(name, "there are no values.", "Name at least one.");
    }
}

/// <summary>Numbers between two, evenly or by an even ratio.</summary>
/// <param name="Steps">How many of them a grid has, both ends among them; null where there is no end of them.</param>
public sealed record RangeSpread(double Low, double High, bool IsLogarithmic, int? Steps) : FactorSpread
{
    double Between(double share) =>
        IsLogarithmic ? Math.Sign(Low) * Math.Exp(Math.Log(Math.Abs(Low)) + share * Math.Log(High / Low)) : Low + share * (High - Low);

    public override FactorLevel At(double share) =>
        Steps is { } n ? FactorLevel.Of(Step(Math.Min((int)(share * n), n - 1))) : FactorLevel.Of(Between(share));

    /// <summary>The ends are met exactly.</summary>
    double Step(int i) =>
        i == 0 ? Low
        : i == Steps - 1 ? High
        : Between(i / (Steps!.Value - 1.0));

    public override IReadOnlyList<FactorLevel>? Levels =>
        Steps is { } n ? [.. Enumerable.Range(0, n).Select(i => FactorLevel.Of(Step(i)))] : null;

    public override void Check(string name)
    {
        if (!double.IsFinite(Low) || !double.IsFinite(High))
            throw Wrong(name, "an end of the range is no number.", "Give two finite ends.");
        if (Steps is < 1)
            throw Wrong(name, "there are no steps.", "Take at least one.");
        if (Steps is > 1 or null && Low == High)
            throw Wrong(name, "both ends of the range are the same.", "Give two different ends, or a list with one value.");
        if (IsLogarithmic && !(Low * High > 0))
            throw Wrong(name, "an even ratio needs two ends of one sign, neither of them zero.", "Step evenly, or move an end.");
    }
}

/// <summary>A normal distribution, cut off where bounds are given.</summary>
/// <param name="Deviation">Standard deviation of the whole one.</param>
public sealed record NormalSpread(double Mean, double Deviation, double? Low, double? High) : FactorSpread
{
    public override FactorLevel At(double share)
    {
        var from = Low is { } low ? Normal.CDF(Mean, Deviation, low) : 0;
        var to = High is { } high ? Normal.CDF(Mean, Deviation, high) : 1;
        // The ends of the whole one lie at infinity.
        var at = Math.Clamp(from + share * (to - from), 1e-15, 1 - 1e-15);
        var value = Normal.InvCDF(Mean, Deviation, at);
        return FactorLevel.Of(Math.Clamp(value, Low ?? double.NegativeInfinity, High ?? double.PositiveInfinity));
    }

    public override IReadOnlyList<FactorLevel>? Levels => null;

    public override void Check(string name)
    {
        if (!double.IsFinite(Mean) || !(Deviation > 0) || !double.IsFinite(Deviation))
            throw Wrong(name, "the mean and the deviation are no distribution.", "The deviation must be above zero.");
        if (Low >= High)
            throw Wrong(name, "the bounds leave nothing between them.", "The lower one must lie below the upper one.");
        if (Low is { } low && Normal.CDF(Mean, Deviation, low) > 0.999 || High is { } high && Normal.CDF(Mean, Deviation, high) < 0.001)
            throw Wrong(name, "the bounds cut off nearly all of the distribution.", "Move a bound, or take an even one.");
    }
}

/// <summary>A triangular distribution.</summary>
public sealed record TriangularSpread(double Low, double Mode, double High) : FactorSpread
{
    public override FactorLevel At(double share) => FactorLevel.Of(Triangular.InvCDF(Low, High, Mode, Math.Clamp(share, 0, 1)));

    public override IReadOnlyList<FactorLevel>? Levels => null;

    public override void Check(string name)
    {
        if (!double.IsFinite(Low) || !double.IsFinite(High) || !(Low < High) || !(Mode >= Low && Mode <= High))
            throw Wrong(name, "the three figures are no triangle.", "The most likely value lies between the ends.");
    }
}
