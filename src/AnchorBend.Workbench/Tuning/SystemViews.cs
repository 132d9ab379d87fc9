namespace AnchorBend.Workbench.Tuning;

/// <summary>A linear system from signals to signals, by identity or by path.</summary>
/// <param name="Open">Signals at which loops are cut; null for none.</param>
/// <param name="Period">Sampling period in s for which it is made discrete; null for none.</param>
/// <param name="ExactAt">Frequency in rad/s at which Tustin's rule is exact; null for zero.</param>
public sealed record SystemRequest(
    IReadOnlyList<string> From,
    IReadOnlyList<string> To,
    IReadOnlyList<string>? Open,
    double? At,
    string? Point,
    double? Period,
    double? ExactAt
);

/// <summary>Matrices by row.</summary>
public sealed record MatricesView(
    IReadOnlyList<IReadOnlyList<double>> A,
    IReadOnlyList<IReadOnlyList<double>> B,
    IReadOnlyList<IReadOnlyList<double>> C,
    IReadOnlyList<IReadOnlyList<double>> D
);

/// <param name="Numerator">Descending powers of s, or of z.</param>
public sealed record TransferView(IReadOnlyList<double> Numerator, IReadOnlyList<double> Denominator);

/// <summary>A discrete system for a continuous one.</summary>
/// <param name="Hold">zoh, tustin or matched.</param>
/// <param name="Problem">Why there is none; null where there is.</param>
/// <param name="Magnitude">dB at the sampled frequencies of the answer.</param>
/// <param name="Phase">Degrees, without jumps.</param>
public sealed record ConversionView(
    string Hold,
    string? Problem,
    TransferView? Transfer,
    IReadOnlyList<PoleView> Poles,
    IReadOnlyList<PoleView> Zeros,
    IReadOnlyList<double> Magnitude,
    IReadOnlyList<double> Phase
);

/// <param name="Delays">Dead times in s; with them the matrices are not all of the system.</param>
/// <param name="Zeros">Of one input and output its zeros, of as many as outputs its transmission zeros; null where there are none to
/// tell.</param>
/// <param name="Transfer">Of one input and output without dead times.</param>
/// <param name="SingularValues">For each, largest first, its course over the frequencies in dB.</param>
/// <param name="SampledFrequencies">Of the conversions, up to near half the sample rate, rad/s; none without a period.</param>
/// <param name="Continuous">Magnitude and phase of the continuous system there.</param>
public sealed record SystemAnswer(
    string Point,
    IReadOnlyList<string> From,
    IReadOnlyList<string> To,
    IReadOnlyList<string> States,
    MatricesView Matrices,
    IReadOnlyList<double> Delays,
    IReadOnlyList<RootView> Poles,
    IReadOnlyList<RootView>? Zeros,
    TransferView? Transfer,
    IReadOnlyList<double> Frequencies,
    IReadOnlyList<IReadOnlyList<double>> SingularValues,
    IReadOnlyList<double> SampledFrequencies,
    ConversionView? Continuous,
    IReadOnlyList<ConversionView> Conversions
);

/// <summary>State feedback with an observer for a plant between two signals.</summary>
/// <param name="Bandwidth">rad/s; its weights are those of <paramref name="Weights"/> where these are given.</param>
/// <param name="Observer">Bandwidth of the observer, rad/s.</param>
/// <param name="Integral">Bandwidth of the integral part, rad/s; 0 for none.</param>
public sealed record FeedbackRequest(
    string From,
    string To,
    IReadOnlyList<string>? Open,
    double? At,
    string? Point,
    double Bandwidth,
    double Observer,
    double Integral,
    WeightsView? Weights
);

/// <param name="Effort">Of u², where y² weighs one.</param>
/// <param name="Integral">Of (∫y)², 1/s².</param>
/// <param name="Noise">Of the measurement, where a load at the input has the intensity one.</param>
public sealed record WeightsView(double Effort, double Integral, double Noise);

/// <param name="Feedback">Of the states, then of the integral.</param>
/// <param name="Texts">Parameters of a part of state space from the error to the plant's input.</param>
/// <param name="Magnitude">dB, of the open loop.</param>
/// <param name="Step">Measured value after a unit step of the set-point.</param>
/// <param name="Load">Measured value after a unit step at the plant's input.</param>
/// <param name="Effort">Plant's input after a unit step of the set-point.</param>
public sealed record FeedbackAnswer(
    string Point,
    WeightsView Weights,
    IReadOnlyList<string> States,
    IReadOnlyList<double> Feedback,
    IReadOnlyList<double> Observer,
    IReadOnlyList<RootView> Poles,
    IReadOnlyList<CrossingView> GainCrossings,
    IReadOnlyList<CrossingView> PhaseCrossings,
    double? DelayMargin,
    double? Sensitivity,
    bool? IsStable,
    IReadOnlyList<double> Frequencies,
    IReadOnlyList<double> Magnitude,
    IReadOnlyList<double> Phase,
    IReadOnlyList<double> Times,
    IReadOnlyList<double> Step,
    IReadOnlyList<double> Load,
    IReadOnlyList<double> Effort,
    IReadOnlyDictionary<string, string> Texts
);
