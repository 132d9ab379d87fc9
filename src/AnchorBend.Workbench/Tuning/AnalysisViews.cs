namespace AnchorBend.Workbench.Tuning;

/// <summary>Signals are given by identity or by path.</summary>
/// <param name="Open">Signals at which loops are cut; null for none.</param>
/// <param name="At">Instant of the operating point in s; null for the start of runs, or the steady state.</param>
/// <param name="Point">Id of a saved operating point; null for the model as it is.</param>
/// <param name="LowFrequency">rad/s; null for what suits the system.</param>
public sealed record LinearRequest(
    string From,
    string To,
    IReadOnlyList<string>? Open,
    double? At,
    string? Point,
    double? LowFrequency,
    double? HighFrequency
);

/// <summary>A pole or zero in 1/s.</summary>
/// <param name="Frequency">Natural frequency, rad/s.</param>
/// <param name="Damping">Damping ratio.</param>
public sealed record RootView(double Re, double Im, double Frequency, double Damping);

/// <summary>A linear system between two signals: what it is made of, and its answers.</summary>
/// <param name="Period">Where samples lie between the signals the time after which all of them are taken again, s; poles and zeros are
/// then those of continuous systems that go on alike, and the step is seen at the samples. Null for a continuous system.</param>
/// <param name="Magnitude">dB.</param>
/// <param name="Phase">Degrees, without jumps.</param>
/// <param name="Re">Of the response.</param>
/// <param name="GainCrossings">As an open loop with negative feedback: frequencies and phase margins.</param>
/// <param name="PhaseCrossings">Frequencies and gain margins.</param>
/// <param name="Step">The output after a unit step of the input.</param>
public sealed record LinearAnswer(
    string Point,
    double? Period,
    int States,
    IReadOnlyList<RootView> Poles,
    IReadOnlyList<RootView> Zeros,
    IReadOnlyList<double> Frequencies,
    IReadOnlyList<double> Magnitude,
    IReadOnlyList<double> Phase,
    IReadOnlyList<double> Re,
    IReadOnlyList<double> Im,
    IReadOnlyList<CrossingView> GainCrossings,
    IReadOnlyList<CrossingView> PhaseCrossings,
    double? DelayMargin,
    double? Sensitivity,
    double? Complementary,
    IReadOnlyList<double> Times,
    IReadOnlyList<double> Step
);

public sealed record ModesRequest(double? At, string? Point);

/// <summary>A state in a mode.</summary>
/// <param name="State">Its path by names.</param>
/// <param name="Part">Path by ids of the part that it belongs to; null for the model's own.</param>
/// <param name="Share">Participation factor: all of one mode sum to 1.</param>
/// <param name="Re">Of the mode's shape; its largest entry is 1.</param>
public sealed record ModeStateView(string State, string? Part, double Share, double Re, double Im);

/// <param name="TimeConstant">s; null where it neither decays nor grows.</param>
public sealed record ModeView(
    double Re,
    double Im,
    double Frequency,
    double Damping,
    double? TimeConstant,
    IReadOnlyList<ModeStateView> States
);

/// <param name="Held">Parts that work at samples, whose values are held in these modes.</param>
public sealed record ModesAnswer(string Point, IReadOnlyList<ModeView> Modes, IReadOnlyList<string> Held);

/// <param name="Re">Of the pole, 1/s.</param>
public sealed record MoversRequest(double? At, string? Point, double Re, double Im);

/// <summary>How a mode moves with a parameter.</summary>
/// <param name="Part">Path by ids of the part it stands in; null for one of the model.</param>
/// <param name="Frequency">Percent of the natural frequency for each percent of the parameter.</param>
/// <param name="Damping">Change of the damping ratio for each percent of the parameter.</param>
public sealed record MoverView(string Parameter, string? Part, double Frequency, double Damping);

/// <param name="Looked">Parameters that were looked at, of all that there are; in slow models not all are.</param>
public sealed record MoversAnswer(IReadOnlyList<MoverView> Movers, int Looked, int All);

/// <param name="Parameter">By identity or by path.</param>
/// <param name="From">As typed, with a unit if wanted; null for a tenth of the present value.</param>
/// <param name="To">Likewise; null for ten times the present value.</param>
public sealed record LocusRequest(double? At, string? Point, string Parameter, string? From, string? To);

/// <summary>The poles over a parameter.</summary>
/// <param name="Present">The parameter's value now.</param>
/// <param name="Branches">For each pole its real and imaginary parts over the values; null where there is no operating point.</param>
public sealed record LocusAnswer(
    string Parameter,
    string Unit,
    double Present,
    IReadOnlyList<double> Values,
    IReadOnlyList<IReadOnlyList<PoleView?>> Branches
);

public sealed record PoleView(double Re, double Im);

/// <param name="Signal">To which the sine is added.</param>
/// <param name="From">Null for the signal with the sine in it.</param>
/// <param name="To">Null, with From, for what comes around the loop, turned in sign.</param>
/// <param name="Amplitude">Null for a hundredth of the signal.</param>
/// <param name="Limit">How far the answering signal may move; null for any.</param>
public sealed record SweepRequest(
    string Signal,
    string? From,
    string? To,
    double Low,
    double High,
    int Count,
    double? Amplitude,
    double? At,
    string? Point,
    double? Limit
);

/// <summary>A test by a step, a pulse or a relay; answered like a sweep.</summary>
/// <param name="Signal">To which it is added.</param>
/// <param name="To">The signal that answers.</param>
/// <param name="Kind">step, pulse or relay.</param>
/// <param name="Height">Null for a hundredth of the signal.</param>
/// <param name="Duration">s.</param>
/// <param name="Limit">How far the answering signal may move; null for any.</param>
public sealed record TransientRequest(
    string Signal,
    string To,
    string Kind,
    double? Height,
    double Duration,
    double? At,
    string? Point,
    double? Limit
);

public sealed record SweepPointView(
    double Frequency,
    double? Re,
    double? Im,
    double? Magnitude,
    double? Phase,
    double Coherence,
    double Purity,
    string? Problem
);

/// <param name="Linear">The linear response at the same frequencies: dB and degrees; empty where there is none.</param>
public sealed record SweepAnswer(
    double Amplitude,
    IReadOnlyList<SweepPointView> Points,
    IReadOnlyList<double> LinearMagnitude,
    IReadOnlyList<double> LinearPhase,
    string? NoLinear,
    RecordView? Record
);

/// <summary>What a test did and what answered, beyond a run without it; times in s from its beginning on.</summary>
/// <param name="Moved">How far the answer moved by itself meanwhile.</param>
public sealed record RecordView(IReadOnlyList<double> Times, IReadOnlyList<double> Input, IReadOnlyList<double> Output, double Moved);

public sealed record FitRequest(
    IReadOnlyList<double> Frequencies,
    IReadOnlyList<double> Re,
    IReadOnlyList<double> Im,
    int Order,
    int Zeros,
    int Integrators,
    bool HasDelay
);

/// <param name="Numerator">Descending powers of s.</param>
/// <param name="Magnitude">dB, at the frequencies of the request.</param>
public sealed record FitAnswer(
    IReadOnlyList<double> Numerator,
    IReadOnlyList<double> Denominator,
    double Delay,
    double Quality,
    double LargestError,
    bool IsStable,
    IReadOnlyList<double> Magnitude,
    IReadOnlyList<double> Phase
);
