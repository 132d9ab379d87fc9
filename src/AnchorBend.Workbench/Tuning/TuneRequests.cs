using AnchorBend.Design;

namespace AnchorBend.Workbench.Tuning;

/// <param name="At">Instant of the operating point in s; null for the start of runs, or the steady state.</param>
/// <param name="Point">Id of a saved operating point; null for the model as it is.</param>
public sealed record LoopsRequest(double? At, string? Point);

/// <summary>What is wished of a loop; null for what may be as it likes.</summary>
/// <param name="Bandwidth">At least, rad/s.</param>
/// <param name="PhaseMargin">At least, degrees.</param>
/// <param name="LoadError">At most: ∫|y| dt after a unit load step.</param>
public sealed record WishesView(double? Sensitivity, double? NoiseGain, double? Bandwidth, double? PhaseMargin, double? LoadError)
{
    internal MapWishes Read() => new(Sensitivity, NoiseGain, Bandwidth, PhaseMargin, LoadError);
}

/// <param name="Part">Path of the controller's part by ids.</param>
/// <param name="Form">PI, PD, PID, rejection1 or rejection2.</param>
/// <param name="Ratio">Bandwidth of the observer over that of a disturbance-rejecting controller; null for the present one, or 5.</param>
/// <param name="From">Lowest bandwidth of the map in rad/s; null for what suits the loop.</param>
public sealed record MapRequest(
    string Part,
    double? At,
    string? Point,
    string Form,
    double? Ratio,
    double? From,
    double? To,
    WishesView? Wishes
);

/// <summary>Gains of a PID in its ideal form, times in s; or those of a disturbance-rejecting controller.</summary>
/// <param name="Form">P, PI, PD, PID, rejection1 or rejection2.</param>
/// <param name="B">Weight of the set-point in the proportional part; null for the present one.</param>
public sealed record GainsView(string Form, double? K, double? Ti, double? Td, double? B, RejectionView? Rejection);

/// <param name="InputGain">b0: rate, or acceleration for second order, of the measured value for a unit of output.</param>
/// <param name="Bandwidth">ωc, rad/s.</param>
/// <param name="Ratio">Bandwidth of the observer over ωc.</param>
public sealed record RejectionView(double InputGain, double Bandwidth, double Ratio);

/// <summary>One way to come to gains; just one of the five is given, none for the present ones.</summary>
/// <param name="Gains">These.</param>
/// <param name="Place">Those of a place on the map.</param>
/// <param name="Margin">Those with a bandwidth and a phase margin.</param>
/// <param name="Best">The best ones under limits.</param>
/// <param name="Drawn">Those whose open loop comes nearest to a drawn gain.</param>
public sealed record DesignAsk(string Name, GainsView? Gains, PlaceAsk? Place, MarginAsk? Margin, BestAsk? Best, DrawnAsk? Drawn);

/// <param name="Ratio">As in <see cref="MapRequest"/>.</param>
/// <param name="Points">Two or more.</param>
public sealed record DrawnAsk(string Form, double? Ratio, IReadOnlyList<DrawnPointView> Points);

/// <param name="Frequency">rad/s.</param>
/// <param name="Gain">Of the open loop, dB.</param>
public sealed record DrawnPointView(double Frequency, double Gain);

/// <param name="Bandwidth">rad/s.</param>
/// <param name="Sensitivity">Peak of |1/(1 + L)|.</param>
/// <param name="Ratio">As in <see cref="MapRequest"/>.</param>
public sealed record PlaceAsk(string Form, double? Ratio, double Bandwidth, double Sensitivity);

/// <param name="Bandwidth">rad/s.</param>
/// <param name="PhaseMargin">Degrees.</param>
public sealed record MarginAsk(string Form, double Bandwidth, double PhaseMargin);

/// <param name="Goal">integralGain, load or setPoint; of P and PD always the largest gain.</param>
/// <param name="Ratio">As in <see cref="MapRequest"/>.</param>
/// <param name="Weighted">Whether the set-point is weighed for the least error of its steps.</param>
/// <param name="Damping">Least damping ratio of all poles; null for any.</param>
/// <param name="Points">Ids of saved operating points for all of which the limits hold; null for the one that is looked at.</param>
public sealed record BestAsk(
    string Form,
    string Goal,
    double Sensitivity,
    double? NoiseGain,
    IReadOnlyList<string>? Points,
    double? Damping,
    double? Ratio,
    bool? Weighted
);

/// <summary>A loop at several saved operating points.</summary>
/// <param name="Gains">The same at each; null for those that the controller has there.</param>
/// <param name="Best">The best at each by itself, in place of the gains; its points are not used.</param>
/// <param name="Between">Whether the loop is looked at halfway between neighbours too, with the schedule that the best would fill.</param>
public sealed record PointDesignsRequest(string Part, IReadOnlyList<string> Points, GainsView? Gains, BestAsk? Best, bool? Between);

/// <param name="From">Lowest frequency of the responses in rad/s; null for what suits them.</param>
/// <param name="End">Length of the time responses in s; null for what suits them.</param>
public sealed record DesignsRequest(
    string Part,
    double? At,
    string? Point,
    IReadOnlyList<DesignAsk> Asks,
    double? From,
    double? To,
    double? End,
    WishesView? Wishes
);

/// <param name="Gains">By design; null for the present ones.</param>
/// <param name="Others">Gains that other controllers have in the run; null for the present ones.</param>
public sealed record TrueRunRequest(string Part, string? Point, GainsView? Gains, IReadOnlyList<TunedPart>? Others);

/// <summary>Gains of a controller.</summary>
/// <param name="Part">Its path by ids.</param>
public sealed record TunedPart(string Part, GainsView Gains);

/// <summary>One loop of several that are tuned one after the other.</summary>
/// <param name="Part">Path of its controller by ids.</param>
/// <param name="Before">Gains that were found for loops before it, which it is tuned with.</param>
/// <param name="Form">Null for the present one, or PI.</param>
/// <param name="Margin">The bandwidth and phase margin wanted; null for the best there is.</param>
/// <param name="Sensitivity">Largest peak of the best; null for 1.6.</param>
/// <param name="Excitation">How the running model is excited to measure its plant; null for the linear one.</param>
public sealed record TuneStepRequest(
    string Part,
    double? At,
    string? Point,
    IReadOnlyList<TunedPart>? Before,
    string? Form,
    StepMargin? Margin,
    double? Sensitivity,
    Excitation? Excitation
);

/// <param name="Bandwidth">rad/s.</param>
/// <param name="PhaseMargin">Degrees.</param>
public sealed record StepMargin(double Bandwidth, double PhaseMargin);

/// <summary>A sine beside the controller's own action, at one frequency after the other.</summary>
/// <param name="Amplitude">Of the controller's output; null for a hundredth of it.</param>
/// <param name="Low">Lowest frequency in rad/s; null for an eighth of the bandwidth.</param>
/// <param name="High">Highest one; null for eight times the bandwidth.</param>
/// <param name="Limit">How far the measured value may move before a frequency is given up; null for any way.</param>
public sealed record Excitation(double? Amplitude, double? Low, double? High, double? Limit);
