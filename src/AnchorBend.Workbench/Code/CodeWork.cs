using System.Security.Cryptography;
using System.Text;
using AnchorBend.Delivery;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation.Grid;
using AnchorBend.Workbench.Compute;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Code;

/// <summary>Which part is to become C code, and how.</summary>
/// <param name="Part">Its identity: ids from the root down.</param>
/// <param name="Step">From step to step, as typed, a bare number in seconds.</param>
/// <param name="Method">euler, heun or rk4.</param>
/// <param name="IsFloat">Numbers of 32 bits instead of 64.</param>
/// <param name="Tunable">Parameters that can be changed while it runs; all of the part's own where it is null.</param>
/// <param name="Alternative">The one of a slot that is meant; null for the one that is chosen.</param>
/// <param name="IsSolvedOutside">Whether who calls the code integrates its states and finds its events.</param>
public sealed record CodeOrder(
    string Part,
    string Step,
    string? Method,
    bool IsFloat,
    IReadOnlyList<string>? Tunable,
    string? Alternative = null,
    bool IsSolvedOutside = false
);

/// <param name="Line">From 1.</param>
/// <param name="Part">Names from the unit down with dots between; empty for the unit itself.</param>
/// <param name="Place">The drawn part that it belongs to, by ids from the unit down.</param>
public sealed record CodeLine(int Line, string Part, string Place);

/// <param name="Lines">Which lines come from which part; those that come from none are left out.</param>
public sealed record WrittenFile(string Name, string Text, IReadOnlyList<CodeLine> Lines);

/// <param name="Type">real, integer or boolean.</param>
/// <param name="Value">What it begins with, in its unit; null for inputs and outputs.</param>
public sealed record CodeValue(string Name, string Type, string Unit, string Description, double? Value);

/// <param name="Hash">Of the text of all files.</param>
/// <param name="Parameters">Those that could be changed while it runs, all of them.</param>
/// <param name="Tunable">Those that can be.</param>
/// <param name="Idle">Those of them that nothing in the code reads.</param>
/// <param name="Unchecked">What ends a run of the model where it does not hold, and what the code does not look at.</param>
public sealed record WrittenCode(
    string Name,
    string Hash,
    IReadOnlyList<WrittenFile> Files,
    IReadOnlyList<CodeValue> Inputs,
    IReadOnlyList<CodeValue> Outputs,
    IReadOnlyList<CodeValue> Parameters,
    IReadOnlyList<string> Tunable,
    IReadOnlyList<string> Idle,
    IReadOnlyList<string> Unchecked
);

/// <param name="Steps">To compare, with inputs drawn from −2 to 2.</param>
/// <param name="Seed">The same seed draws the same inputs.</param>
public sealed record CodeCheckOrder(CodeOrder Code, int Steps, int Seed);

/// <param name="Compiler">What it said; empty where it said nothing.</param>
/// <param name="First">Where code and model part first; null where they do not.</param>
/// <param name="Largest">By output how far they are apart at most.</param>
/// <param name="Unsolved">Times that an algebraic loop was not solved, in both.</param>
/// <param name="Unsettled">Steps in which decisions did not settle, in both.</param>
public sealed record CodeCheck(
    string Compiler,
    long Steps,
    Parting? First,
    IReadOnlyDictionary<string, double> Largest,
    long Unsolved,
    long Unsettled
)
{
    public static CodeCheck Of(BackToBackResult result) =>
        new(result.Compiler, result.Steps, result.First, result.Largest, result.Unsolved, result.Unsettled);
}

/// <summary>Writes parts as C code and compares it with the model.</summary>
public sealed class CodeWork(ModelWork models, ComputeGate compute)
{
    static readonly TimeSpan MostWriting = TimeSpan.FromSeconds(20),
        MostChecking = TimeSpan.FromSeconds(120);

    const int MostSteps = 200_000;

    /// <exception cref="DeliveryException">It cannot become code; says why.</exception>
    public WrittenCode Write(string model, CodeOrder order, CancellationToken wanted)
    {
        var session = models.Session(model);
        return compute.Run(MostWriting, wanted, w => Written(Unit(session, order, w)));
    }

    const string FoundStart =
        "The state at the start was found with the parameters as they are now; with other ones the code begins from the same state.";

    internal static WrittenCode Written(CodeUnit unit)
    {
        var code = CWriter.Write(unit);
        List<WrittenFile> files =
        [
            .. code.Select(f => new WrittenFile(
                f.Name,
                f.Text,
                [.. f.Origins.OrderBy(o => o.Key).Select(o => new CodeLine(o.Key, CodeUnit.PathWithin(o.Value), unit.PlaceWithin(o.Value)))]
            )),
        ];
        var hash = SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\f', files.Select(f => f.Text))));
        return new WrittenCode(
            unit.Name,
            Convert.ToHexStringLower(hash)[..16],
            files,
            [.. unit.Inputs.Select(p => Told(p))],
            [.. unit.Outputs.Select(p => Told(p))],
            [.. unit.Changeable.Select(p => Told(p, unit.Parameters.Values[p.Variable.Index]))],
            [.. unit.Tunable.Select(t => t.Name)],
            CWriter.Idle(unit, code),
            [.. unit.Unchecked, .. unit.IsStartFound ? [FoundStart] : (string[])[]]
        );
    }

    /// <exception cref="DeliveryException">It cannot become code, or does not compile or run; says why.</exception>
    public CodeCheck Check(string model, CodeCheckOrder order, CancellationToken wanted)
    {
        if (order.Steps is < 1 or > MostSteps)
            throw new DeliveryException("steps", "From 1 to 200,000 steps are compared.", "Give a number between them.");
        var session = models.Session(model);
        return compute.Run(MostChecking, wanted, w =>
        {
            var unit = Unit(session, order.Code, w);
            unit.RefuseSteps();
            var result = BackToBack.Compare(unit, DrawnInputs.Of(unit, order.Steps, order.Seed), w);
            return CodeCheck.Of(result);
        });
    }

    static CodeUnit Unit(ModelSession session, CodeOrder order, CancellationToken wanted)
    {
        var request = Request(order);
        var (whole, document, _) = session.Prepare(wanted);
        return CodeUnit.Of(whole, document, session.Catalog(), request);
    }

    internal static CodeRequest Request(CodeOrder order)
    {
        if (TypedValue.Number(order.Step, Language.Units.Unit.Parse("s")) is not { } step)
            throw new DeliveryException("step", $"'{DocumentLimits.Short(order.Step)}' is no time.", "Type it as 1 ms, for example.");
        if (!CodeRequest.Methods.TryGetValue(order.Method ?? "euler", out var method))
            throw new DeliveryException(
                "method",
                $"There is no method '{DocumentLimits.Short(order.Method!)}'.",
                "Take euler, heun or rk4."
            );
        return new CodeRequest(order.Part, step, method, order.IsFloat, order.Tunable, order.Alternative, order.IsSolvedOutside);
    }

    static CodeValue Told(CodePort port, double? value = null) =>
        new(
            port.Name,
            port.Variable.Type switch
            {
                ScalarType.Boolean => "boolean",
                ScalarType.Real => "real",
                _ => "integer",
            },
            port.Variable.Unit is { Symbol: { Length: > 0 } symbol } && symbol != "1" ? Language.Units.Unit.Pretty(symbol) : "",
            port.Variable.Description ?? "",
            value
        );
}
