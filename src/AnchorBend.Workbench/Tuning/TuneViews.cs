namespace AnchorBend.Workbench.Tuning;

/// <summary>One loop of a model with its present gains.</summary>
/// <param name="Part">Path of its controller by ids.</param>
/// <param name="Name">Of its controller.</param>
/// <param name="Path">The controller's path by names.</param>
/// <param name="Around">Path by ids of the controller whose loop lies next around this one; null for an outermost loop.</param>
/// <param name="Pointer">Where its parameters stand in the document.</param>
/// <param name="Order">Place in the order of tuning, from 1: inner loops first.</param>
/// <param name="Forms">Forms that its controller can have.</param>
/// <param name="Others">Forms that another part in its place can have.</param>
/// <param name="Period">Its sample time, s; null where it works all the time.</param>
/// <param name="Problem">Why nothing can be said of it; null where something can.</param>
public sealed record LoopView(
    string Part,
    string Name,
    string Path,
    string? Around,
    string Pointer,
    int Order,
    IReadOnlyList<string> Forms,
    IReadOnlyList<string> Others,
    double? Period,
    GainsView? Gains,
    LoopFiguresView? Figures,
    string? Problem
);

/// <param name="Point">Which operating point they are about.</param>
public sealed record LoopsAnswer(string Point, IReadOnlyList<LoopView> Loops);

/// <summary>All that is said of a loop with given gains; null for what is not there or has no bound.</summary>
/// <param name="IsStable">Null where it could not be decided.</param>
/// <param name="Bandwidth">The highest frequency at which the loop's gain is one, rad/s.</param>
/// <param name="PhaseMargin">The smallest, degrees.</param>
/// <param name="GainMargin">The one nearest to 1, as a factor.</param>
/// <param name="DelayMargin">s.</param>
/// <param name="LoadError">∫|y| dt after a unit load step.</param>
/// <param name="Overshoot">Of the set-point step, as a share of it.</param>
/// <param name="Settling">Time after which a set-point step stays within 2 %, s; null where that is later than the response goes.</param>
public sealed record LoopFiguresView(
    bool? IsStable,
    double? Bandwidth,
    double? PhaseMargin,
    double? GainMargin,
    double? DelayMargin,
    double? Sensitivity,
    double? SensitivityAt,
    double? Complementary,
    double? NoiseGain,
    double? LoadError,
    double? SetPointError,
    double? Overshoot,
    double? Settling
);

/// <summary>A place where a response passes a mark: the frequency in rad/s and the margin there.</summary>
public sealed record CrossingView(double Frequency, double Margin);

/// <summary>Gains with all that they do.</summary>
/// <param name="Place">Where they are on the map: bandwidth and peak; null where they have none.</param>
/// <param name="Warning">What one must know before they are applied; null for nothing.</param>
/// <param name="Missed">Wishes that they miss: sensitivity, noiseGain, bandwidth, phaseMargin, loadError.</param>
/// <param name="Remark">What is to be known of how they were found.</param>
/// <param name="Magnitude">Of the open loop, dB.</param>
/// <param name="Phase">Of the open loop, degrees.</param>
/// <param name="Sensitivity">|1/(1 + L)|.</param>
/// <param name="SetPoint">The measured value after a unit step of the set-point.</param>
/// <param name="Load">The measured value after a unit step at the plant's input.</param>
/// <param name="Effort">The controller's output after a unit step of the set-point.</param>
/// <param name="Texts">The texts that set these gains, each in the unit that stands in its field.</param>
/// <param name="Replacement">The part that has to take the controller's place for them, all of whose parameters are the texts; null where
/// the controller can have them.</param>
/// <param name="Problem">Why there are no gains; null where there are.</param>
public sealed record DesignView(
    string Name,
    GainsView? Gains,
    LoopFiguresView? Figures,
    IReadOnlyList<CrossingView> GainCrossings,
    IReadOnlyList<CrossingView> PhaseCrossings,
    string? Warning,
    IReadOnlyList<string> Missed,
    string? Remark,
    IReadOnlyList<double> Magnitude,
    IReadOnlyList<double> Phase,
    IReadOnlyList<double> Sensitivity,
    IReadOnlyList<double> SetPoint,
    IReadOnlyList<double> Load,
    IReadOnlyList<double> Effort,
    IReadOnlyDictionary<string, string> Texts,
    ReplacementView? Replacement,
    string? Problem
);

/// <param name="Type">Of the part.</param>
/// <param name="Loose">Pointers of the wires that end at what it has not.</param>
public sealed record ReplacementView(string Type, IReadOnlyList<string> Loose);

/// <param name="Frequencies">rad/s.</param>
/// <param name="Times">s.</param>
public sealed record DesignsAnswer(IReadOnlyList<double> Frequencies, IReadOnlyList<double> Times, IReadOnlyList<DesignView> Designs);

/// <param name="From">rad/s.</param>
/// <param name="To">rad/s.</param>
public sealed record ShoreView(double From, double To, string Why);

/// <param name="Best">The best place that meets all wishes; null where none does.</param>
/// <param name="Stopper">sensitivity, noiseGain, bandwidth, phaseMargin or loadError; null where no wish binds.</param>
/// <param name="Without">The best place without that wish.</param>
public sealed record AdviceView(PlaceView? Best, string? Stopper, PlaceView? Without);

public sealed record PlaceView(double Bandwidth, double Sensitivity, double PhaseMargin, double NoiseGain, double LoadError);

/// <summary>What a form of controller reaches over bandwidth and sensitivity.</summary>
/// <param name="InputGain">What the plant shows where the loop works, for forms that need it.</param>
/// <param name="Bandwidths">Columns, rad/s.</param>
/// <param name="Peaks">Rows: peaks of the sensitivity.</param>
/// <param name="LoadErrors">By row and column; null where the form does not get.</param>
/// <param name="NoiseGains">Likewise.</param>
public sealed record MapAnswer(
    string Point,
    string Form,
    double? InputGain,
    IReadOnlyList<double> Bandwidths,
    IReadOnlyList<double> Peaks,
    IReadOnlyList<IReadOnlyList<double?>> LoadErrors,
    IReadOnlyList<IReadOnlyList<double?>> NoiseGains,
    IReadOnlyList<ShoreView> Shores,
    AdviceView? Advice,
    LoopUnits Units
);

/// <summary>Units of a loop's quantities, to be shown; empty where none is known.</summary>
/// <param name="Effort">Of the controller's output.</param>
/// <param name="Measured">Of the measured value.</param>
/// <param name="LowLimit">Of the controller's output; null where it has none.</param>
public sealed record LoopUnits(string Effort, string Measured, double? LowLimit, double? HighLimit);

/// <param name="Times">s.</param>
public sealed record RunCurve(IReadOnlyList<double> Times, IReadOnlyList<double> Values);

/// <summary>The model's own run with other gains in one controller.</summary>
/// <param name="Error">Set-point less measured value.</param>
/// <param name="AtLimit">Stretches of time in which the controller's output is at a limit.</param>
/// <param name="Failure">Where and why it ended early.</param>
public sealed record TrueRunView(RunCurve Error, RunCurve Effort, IReadOnlyList<StretchView> AtLimit, string? Failure);

/// <param name="From">s.</param>
/// <param name="To">s.</param>
public sealed record StretchView(double From, double To);

/// <summary>A loop that was tuned after others.</summary>
/// <param name="Before">Of the present gains on the same plant.</param>
/// <param name="Texts">The texts that set the gains.</param>
/// <param name="Warning">What one must know before they are applied; null for nothing.</param>
/// <param name="Measured">What was measured; null where the linear plant was taken.</param>
public sealed record TuneStepAnswer(
    GainsView Present,
    GainsView Gains,
    LoopFiguresView Before,
    LoopFiguresView After,
    IReadOnlyDictionary<string, string> Texts,
    string? Remark,
    string? Warning,
    MeasuredPlantView? Measured
);

/// <summary>A plant that was measured on the running model, and what was fitted to it.</summary>
/// <param name="Frequencies">Those at which something was measured, rad/s.</param>
/// <param name="Magnitude">dB.</param>
/// <param name="Phase">Degrees.</param>
/// <param name="FittedMagnitude">dB, of the fitted model.</param>
/// <param name="FittedPhase">Degrees.</param>
/// <param name="Quality">Of the fit: 1 where all points are met.</param>
/// <param name="Model">The fitted model in a few words.</param>
/// <param name="Left">Frequencies that were given up, each with its reason.</param>
public sealed record MeasuredPlantView(
    double Amplitude,
    IReadOnlyList<double> Frequencies,
    IReadOnlyList<double> Magnitude,
    IReadOnlyList<double> Phase,
    IReadOnlyList<double> FittedMagnitude,
    IReadOnlyList<double> FittedPhase,
    double Quality,
    string Model,
    IReadOnlyList<string> Left
);

/// <summary>A loop at a saved operating point, or halfway between two of them.</summary>
/// <param name="Point">Id; empty halfway between two.</param>
/// <param name="Quantity">What the schedule follows there, in the unit of the model; null for a controller without one.</param>
/// <param name="Problem">Why nothing is said; null where there is.</param>
public sealed record PointDesignView(
    string Point,
    string Name,
    double? Quantity,
    GainsView? Gains,
    LoopFiguresView? Figures,
    string? Warning,
    string? Problem,
    bool IsBetween
);

/// <param name="Texts">What fills the controller's table with these gains; null where it has none, or no two points differ.</param>
public sealed record PointDesignsAnswer(IReadOnlyList<PointDesignView> Points, string Unit, IReadOnlyDictionary<string, string>? Texts);
