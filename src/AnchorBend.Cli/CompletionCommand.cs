using System.CommandLine;

namespace AnchorBend.Cli;

/// <summary><c>anchor-bend completion</c>: what a shell needs to complete commands and options. The words themselves come from this
/// program each time, so that they are always those that it has.</summary>
static class CompletionCommand
{
    const string Bash = """
        _anchor_bend() {
            local IFS=$'\n'
            COMPREPLY=($(anchor-bend "[suggest:${COMP_POINT}]" "${COMP_LINE}" 2>/dev/null))
        }
        complete -o default -F _anchor_bend anchor-bend
        """;

    const string Zsh = """
        _anchor_bend() {
            local -a words_found
            words_found=("${(@f)$(anchor-bend "[suggest:${CURSOR}]" "${BUFFER}" 2>/dev/null)}")
            compadd -a words_found
            _files
        }
        compdef _anchor_bend anchor-bend
        """;

    const string Fish = """
        complete -c anchor-bend -a '(anchor-bend "[suggest:"(commandline -C)"]" (commandline -p) 2>/dev/null)'
        """;

    public static Command Create()
    {
        var shell = new Argument<string>("SHELL") { Description = "bash, zsh or fish" };
        shell.AcceptOnlyFromAmong("bash", "zsh", "fish");
        var command = new Command(
            "completion",
            "Print what a shell needs to complete commands and options: source <(anchor-bend completion bash)"
        )
        {
            shell,
        };
        command.SetAction(parsed =>
            Console.WriteLine(
                parsed.GetValue(shell) switch
                {
                    "zsh" => Zsh,
                    "fish" => Fish,
                    _ => Bash,
                }
            )
        );
        return command;
    }
}
