using System.Text.Json;
using AnchorBend.Design;
using AnchorBend.Workbench.Tuning;

namespace AnchorBend.Cli;

/// <summary>Prints what <c>anchor-bend tune --max-sensitivity</c> found.</summary>
static class BestGains
{
    public static int Print(RobustProposal proposal, bool asJson)
    {
        if (asJson)
            Console.WriteLine(
                JsonSerializer.Serialize(
                    new
                    {
                        part = proposal.Design.Part,
                        plantPoles = PolesAndZeros.Poles(proposal.Design.Plant).Select(LinearCommand.Pair),
                        candidates = proposal.Candidates.Select(c => Record(proposal.Design, c, c.Pid().Form.ToString())),
                        present = Record(proposal.Design, proposal.Present, "present"),
                        notPossible = proposal.Missing.Select(f => f.ToString()),
                    },
                    CommandParts.Json
                )
            );
        else
        {
            foreach (var c in proposal.Candidates)
                Console.WriteLine(Line(c.Pid().Form.ToString(), c));
            Console.WriteLine(Line("present", proposal.Present));
            foreach (var form in proposal.Missing)
                Console.WriteLine($"{form}: no gains keep these limits.");
        }

        return proposal.Candidates.Count > 0 ? 0 : 1;
    }

    static double? Finite(double? value) => value is { } v && double.IsFinite(v) ? v : null;

    /// <summary>The controller's own parameters; null where its kind cannot have the gains.</summary>
    public static Dictionary<string, double>? Parameters(LoopDesign design, PidGains gains)
    {
        try
        {
            return design.Law.Write(gains).ToDictionary(p => p.Name, p => p.Value);
        }
        catch (DesignException)
        {
            return null;
        }
    }

    static object Record(LoopDesign design, LoopFigures c, string name)
    {
        var (kp, ki, kd) = c.Pid().Parallel;
        return new
        {
            name,
            form = c.Pid().Form.ToString(),
            k = c.Pid().K,
            ti = c.Pid().HasIntegral ? c.Pid().Ti : (double?)null,
            td = c.Pid().HasDerivative ? c.Pid().Td : (double?)null,
            n = c.Pid().N,
            kp,
            ki,
            kd,
            parameters = Parameters(design, c.Pid()),
            maxSensitivity = Finite(c.Sensitivity.Value),
            maxSensitivityAt = c.Sensitivity.Frequency,
            maxComplementary = Finite(c.Complementary.Value),
            maxComplementaryAt = c.Complementary.Frequency,
            noiseGain = Finite(c.NoiseGain.Value),
            loadIae = c.LoadIae,
            setpointIae = c.SetPointIae,
            gainMargins = c.Margins.PhaseCrossings.Select(m => new { frequency = m.Frequency, factor = m.Margin }),
            phaseMargins = c.Margins.GainCrossings.Select(m => new { frequency = m.Frequency, degrees = m.Margin }),
            delayMargin = Finite(c.DelayMargin),
            isStable = c.IsStable,
        };
    }

    static string Line(string name, LoopFigures c)
    {
        var (kp, ki, kd) = c.Pid().Parallel;
        return $"{name, -8} kp = {kp:G5}  ki = {ki:G5}  kd = {kd:G5}  (k = {c.Pid().K:G5}"
            + $"{(c.Pid().HasIntegral ? $", Ti = {c.Pid().Ti:G5} s" : "")}{(c.Pid().HasDerivative ? $", Td = {c.Pid().Td:G5} s" : "")})  "
            + $"sensitivity {c.Sensitivity.Value:G4}  load error {Told(c.LoadIae)}  set-point error {Told(c.SetPointIae)}  "
            + $"delay margin {Told(c.DelayMargin)} s{(c.IsStable == true ? "" : "  UNSTABLE")}";
    }

    static string Told(double? value) =>
        Finite(value) is { } v ? v.ToString("G4", System.Globalization.CultureInfo.InvariantCulture) : "none";
}
