using System.Text.RegularExpressions;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Documents;

/// <summary>Parts of the catalog and their parameters that were called otherwise in format 2, by the old names.</summary>
public static class RenamedParts
{
    static readonly Dictionary<string, string> Types = new()
    {
        ["ZeroPoleGain"] = "PolesZeros",
        ["UnitDelay"] = "SampleDelay",
        ["TransportDelay"] = "DeadTime",
        ["VariableDelay"] = "VaryingDeadTime",
        ["DeadZone"] = "DeadBand",
        ["RateLimiter"] = "SlewLimit",
        ["CoulombViscous"] = "SlidingFriction",
        ["DiscreteZeroPoleGain"] = "SampledPolesZeros",
        ["DiscreteDerivative"] = "SampledDerivative",
        ["DiscreteFilter"] = "SampledFilter",
        ["DiscreteHighPass"] = "SampledHighPass",
        ["DiscreteIntegrator"] = "SampledIntegrator",
        ["DiscreteLag"] = "SampledLag",
        ["DiscreteLeadLag"] = "SampledLeadLag",
        ["DiscreteLowPass"] = "SampledLowPass",
        ["DiscreteNotch"] = "SampledNotch",
        ["DiscreteSecondOrder"] = "SampledSecondOrder",
        ["DiscreteStateSpace"] = "SampledStateSpace",
        ["DiscreteTransferFunction"] = "SampledTransferFunction",
        ["DiscreteWashout"] = "SampledWashout",
    };

    /// <summary>No part had one of these for anything else.</summary>
    static readonly Dictionary<string, string> Parameters = new()
    {
        ["useHeat"] = "heatPort",
        ["phi0"] = "angle0",
        ["w0"] = "speed0",
    };

    static readonly Regex Words = new(@"\b(" + string.Join('|', Types.Keys) + @")\b", RegexOptions.Compiled);

    /// <summary>What a type is called now.</summary>
    public static string Type(string type) => Types.GetValueOrDefault(type, type);

    /// <summary>What a parameter of a part of the catalog is called now.</summary>
    public static string Parameter(string name) => Parameters.GetValueOrDefault(name, name);

    /// <summary>A text in the equation language with the names of now.</summary>
    public static string Text(string text) => Words.Replace(text, m => Types[m.Value]);
}
