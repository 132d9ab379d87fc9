namespace AnchorBend.Workbench.Tuning;

/// <param name="Part">Path of the controller's part.</param>
/// <param name="At">Instant of the operating point in s; null for the steady state.</param>
/// <param name="Bandwidth">rad/s; null for a suggestion.</param>
public sealed record TuneRequest(string Part, double? At, double? Bandwidth, double? PhaseMargin);

public sealed record ComplexView(double Re, double Im);

/// <param name="Parameters">The texts that set these gains, each in the unit that stands in its field.</param>
public sealed record CandidateView(
    string Name,
    string Form,
    double K,
    double? Ti,
    double? Td,
    double? Bandwidth,
    double? PhaseMargin,
    double? GainMargin,
    double? GainMarginFrequency,
    bool IsStable,
    bool IsExact,
    string? Remark,
    IReadOnlyList<double> Magnitude,
    IReadOnlyList<double> Phase,
    IReadOnlyList<double> Step,
    IReadOnlyList<ComplexView> Poles,
    IReadOnlyDictionary<string, string> Parameters
);

/// <summary>Candidates with their open-loop frequency responses (dB, degrees) and closed-loop step responses on shared grids.</summary>
public sealed record TuneAnswer(
    string Part,
    string OperatingPoint,
    double Bandwidth,
    double PhaseMargin,
    IReadOnlyList<double> Frequencies,
    IReadOnlyList<double> Times,
    IReadOnlyList<ComplexView> PlantPoles,
    IReadOnlyList<CandidateView> Candidates
);
