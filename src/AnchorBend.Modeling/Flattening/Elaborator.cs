using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>One elaboration: the model as far as it is made, what was found, and who makes what of it. Errors become findings; the rest
/// goes on.</summary>
sealed class Elaborator
{
    /// <summary>Code of errors that only follow from others.</summary>
    public const string FollowUp = "follow-up";

    int auxiliaries;

    /// <summary>What is being worked on.</summary>
    (string Part, string? Item) at = ("", null);

    public Elaborator(IClassSource classes, string name, IReadOnlyDictionary<string, Expression> overrides)
    {
        Model = new FlatModel { Name = name };
        Classes = new ClassLookup(classes);
        Values = new StructuralValues(Model);
        Instances = new Instantiation(this);
        Variables = new VariableMaking(this, overrides);
        Attributes = new AttributeBinding(this);
        Sets = new ConnectionSets(this);
        Networks = new NetworkParameters(this);
        Streams = new StreamConnections(this);
        Bundles = new BundleConnections(this);
        Equations = new EquationExpansion(this);
        Whens = new WhenExpansion(this);
        Algorithms = new AlgorithmEquations(this);
        Functions = new FunctionCalls(this);
        NewVariable("time", VariableRole.External, ScalarType.Real, unit: "s");
        NewVariable("initial()", VariableRole.External, ScalarType.Boolean);
    }

    public FlatModel Model { get; }

    public List<Finding> Findings { get; } = [];

    public WorkBudget Budget { get; } = WorkBudget.Current;

    public (string Part, string? Item) At => at;

    public ClassLookup Classes { get; }

    public StructuralValues Values { get; }

    public Instantiation Instances { get; }

    public VariableMaking Variables { get; }

    public AttributeBinding Attributes { get; }

    public ConnectionSets Sets { get; }

    public NetworkParameters Networks { get; }

    public StreamConnections Streams { get; }

    public BundleConnections Bundles { get; }

    public EquationExpansion Equations { get; }

    public WhenExpansion Whens { get; }

    public AlgorithmEquations Algorithms { get; }

    public FunctionCalls Functions { get; }

    public void Run(ClassDefinition root)
    {
        Instance? top = null;
        Guard("", () => top = Instances.MakeInstance("", new LexicalClass(root, null), []));
        if (top is null)
            return;
        for (var i = 0; i < Instances.Members.Count; i++)
        {
            var member = Instances.Members[i];
            Guard(member.Owner.Path, () => Instances.Ensure(member), member.Declaration.Name);
        }

        foreach (var path in Variables.UnusedOverrides.Where(p => !Model.IsLeftOut(p)))
            Findings.Add(
                new Finding(
                    Severity.Error,
                    "unknown-name",
                    $"There is no parameter '{path}' to set.",
                    "",
                    path,
                    Suggestion: Nearest.Of(path, Model.Variables.Where(v => v.Role == VariableRole.Parameter).Select(v => v.Name))
                        is { } near
                        ? $"Did you mean {near}?"
                        : null
                )
            );
        foreach (var member in Instances.Members)
            Guard(member.Owner.Path, () => Attributes.BindAttributes(member), member.Declaration.Name);
        foreach (var instance in Instances.All)
        foreach (var (equation, initial) in instance.Equations)
            Guard(instance.Path, () => Equations.Expand(instance, equation, initial));
        foreach (var instance in Instances.All)
        foreach (var section in instance.Algorithms)
            Guard(instance.Path, () => Algorithms.Expand(instance, section));
        Budget.Check();
        Bundles.ConnectBundles();
        Budget.Check();
        Sets.ConnectAll(top);
        Streams.Complete();
        Budget.Check();
        Networks.CompleteNetworks();
        Budget.Equations(Model.Equations.Count, "", default);
    }

    /// <summary>Runs one piece of work; an error in it becomes a finding and the rest goes on.</summary>
    public void Guard(string part, Action work, string? item = null)
    {
        var outer = at;
        at = (part, item);
        try
        {
            work();
            at = outer;
        }
        catch (LanguageException e)
        {
            at = outer;
            // What fails only because something else failed would hide the reason.
            if (Findings.Count > 500 || e.Error.Code == FollowUp)
                return;
            var owner = e.Data["part"] as string ?? part;
            Findings.Add(
                new Finding(
                    Severity.Error,
                    e.Error.Code,
                    e.Error.Message,
                    owner,
                    e.Data["item"] as string ?? item,
                    e.Error.At,
                    e.Error.Suggestion
                )
                {
                    Replacement = e.Data["replacement"] as string,
                }
            );
        }
    }

    public FlatVariable NewVariable(
        string name,
        VariableRole role,
        ScalarType type,
        string owner = "",
        string? unit = null,
        Member? member = null
    )
    {
        var declaration = member?.Declaration;
        Budget.Variables(1, name, declaration?.At ?? default);
        var variable = new FlatVariable(Model.Variables.Count, name, role, type)
        {
            Owner = owner,
            Description = declaration?.Description,
            At = declaration?.At ?? default,
            IsProtected = declaration?.IsProtected ?? false,
            Causality = declaration?.Causality ?? Causality.None,
            Choices = member?.EnumerationType?.Enumeration,
        };
        if (unit is not null && Language.Units.Unit.TryParse(unit, out var parsed, out _))
            variable.Unit = parsed;
        Model.Variables.Add(variable);
        return variable;
    }

    public string AuxiliaryName(string owner, string what) => (owner.Length == 0 ? "" : owner + ".") + $"${what}{++auxiliaries}";

    /// <summary>The derivative variable of a state, made on first use.</summary>
    public Term DerivativeOf(int index, Position at)
    {
        if (index == FlatModel.TimeIndex)
            return Term.One;
        var variable = Model.Variables[index];
        if (variable.Role == VariableRole.Parameter)
            return Term.Zero;
        if (variable.Role != VariableRole.Continuous)
            throw new LanguageException("type", $"'{variable.Name}' changes at events only and has no derivative.", at);
        return new VariableTerm(Model.DerivativeOf(index).Index);
    }
}
