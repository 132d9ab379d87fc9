using System.Globalization;
using System.Text;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Delivery.Exchange;

/// <summary>
/// A unit for model exchange: its states are variables of the class, whose slopes, outputs and indicators the unit computes at a point of
/// inputs and states; where an indicator passes zero, a discrete input changes or its time has come, it decides and may set its states.
/// </summary>
public static partial class UnitClass
{
    static string Integrated(
        UnitDescription unit,
        UnitFlowDescription flow,
        Dictionary<UnitVariable, string> names,
        Dictionary<UnitVariable, string> offsets
    )
    {
        var text = new StringBuilder();
        void Line(FormattableString line) => text.Append(FormattableString.Invariant(line)).Append('\n');
        List<UnitVariable> inputs = [.. unit.Of(UnitRole.Input)],
            outputs = [.. unit.Of(UnitRole.Output)],
            parameters = [.. unit.Of(UnitRole.Parameter)];
        string Number(UnitVariable v) => Given(v, names[v], offsets.GetValueOrDefault(v));
        var (states, number) = (flow.States.Count, UnitParts.Number);
        Line($"protected");
        Line($"  parameter Real {number} = 0 \"Number of the unit\";");
        for (var i = 0; i < states; i++)
        {
            var state = flow.States[i];
            var about = state.Description.Length > 0 ? state.Description : state.Name;
            Line($"  Real state_{i + 1}(nominal = {Math.Max(state.Nominal, 1e-300):R}) \"{Quoted(about)}\";");
        }

        Declare(text, offsets);
        for (var k = 0; k < flow.Indicators; k++)
            Line($"  Boolean above_{k + 1};");
        Line($"  Real made(start = 0) \"Events it has had\";");
        Line($"  Real next(start = 1e300) \"When its next event comes that it knows of\";");
        if (states > 0)
            Line($"initial equation");
        List<(int, string)> own = [.. parameters.Select((p, i) => (i, Number(p)))];
        var begun = Point(own);
        for (var i = 0; i < states; i++)
            Line($"  state_{i + 1} = outsideBegin({number}, {i}, {begun});");
        List<(int, string)> at = [.. own, .. Enumerable.Range(0, states).Select(i => (own.Count + inputs.Count + i, $"state_{i + 1}"))];
        var alone = Point(at);
        var whole = Point([.. at, .. inputs.Select((v, i) => (own.Count + i, Number(v)))]);
        Line($"equation");
        for (var i = 0; i < states; i++)
            Line($"  der(state_{i + 1}) = outsideValue({number}, {i}, {whole});");
        for (var i = 0; i < outputs.Count; i++)
        {
            var value = FormattableString.Invariant($"outsideValue({number}, {states + i}, {(outputs[i].IsDirect ? whole : alone)})");
            Line($"  {names[outputs[i]]} = {Read(outputs[i], value, offsets.GetValueOrDefault(outputs[i]))};");
        }

        for (var k = 0; k < flow.Indicators; k++)
            Line($"  above_{k + 1} = outsideValue({number}, {states + outputs.Count + k}, {whole}) > 0;");
        string[] reasons =
        [
            .. Enumerable.Range(1, flow.Indicators).Select(k => $"change(above_{k})"),
            .. inputs.Where(v => !v.IsReal).Select(v => $"change({names[v]})"),
            "time >= pre(next)",
        ];
        Line($"  when {{initial(), {string.Join(", ", reasons)}}} then");
        Line($"    made = outsideEvent({number}, {whole});");
        Line($"    next = outsideAfter({number}, -1, made);");
        Line($"  end when;");
        if (states == 0)
            return text.ToString();
        Line($"  when {{{string.Join(", ", reasons)}}} then");
        for (var i = 0; i < states; i++)
            Line($"    reinit(state_{i + 1}, outsideAfter({number}, {i}, made));");
        Line($"  end when;");
        return text.ToString();
    }

    static string Point(IReadOnlyList<(int Index, string Value)> numbers)
    {
        var point = "outsideAt(time)";
        foreach (var (index, value) in numbers)
            point = string.Create(CultureInfo.InvariantCulture, $"outsideWith({index}, {value}, {point})");
        return point;
    }
}
