using System.Globalization;
using System.Text.RegularExpressions;

namespace AnchorBend.Delivery.Targets;

/// <summary>Bytes that a unit takes on a board.</summary>
/// <param name="Flash">Its own code and constants, without the arithmetic and the functions that it calls.</param>
/// <param name="Memory">Variables of its own; structures that are handed to it stand with whoever calls it.</param>
/// <param name="Stack">Deepest that it has been; of all units together, as they share it.</param>
public sealed record BoardSize(long Flash, long Memory, long Stack);

/// <summary>
/// A simulated board with a Cortex-M4 processor: 32 bits, arithmetic in hardware for numbers of 32 bits alone. Bytes come and go by its
/// debug link, many at once, as a serial line takes ten times as long to simulate; what a step costs is counted in instructions, which are
/// the same in every run. The simulated clock advances by 1024 ns with each instruction, and the processor's own counter by one every
/// 40 ns.
/// </summary>
static class Board
{
    const string Compiler = "arm-none-eabi-gcc",
        Simulator = "qemu-system-arm";

    public static readonly IReadOnlyList<string> Packages = ["qemu-system-arm", "gcc-arm-none-eabi", "libnewlib-arm-none-eabi"];

    public static bool IsThere =>
        NativeCode.Has(Compiler) && NativeCode.Has(Simulator) && Directory.Exists("/usr/lib/arm-none-eabi/newlib");

    static readonly string[] Flags =
    [
        "-std=c99",
        "-Wall",
        "-Wextra",
        "-mcpu=cortex-m4",
        "-mthumb",
        "-mfloat-abi=hard",
        "-mfpu=fpv4-sp-d16",
        "-O2",
        "-ffp-contract=off",
        "-ffunction-sections",
        "-fdata-sections",
    ];

    /// <summary>Makes the board's program, and for each source how much of it is that source's.</summary>
    public static (CompiledCode Made, IReadOnlyList<BoardSize> Sizes) Build(
        string folder,
        string host,
        IReadOnlyList<string> sources,
        CancellationToken wanted
    )
    {
        File.WriteAllText(Path.Combine(folder, "board.ld"), Script);
        var sizes = new List<BoardSize>();
        foreach (var source in sources)
        {
            var made = NativeCode.Tool(Compiler, [.. Flags, "-c", source, "-o", source + ".o"], folder, wanted);
            if (!made.Succeeded)
                return (made, []);
            sizes.Add(SizeOf(folder, source + ".o", wanted));
        }

        string[] link = ["-nostartfiles", "--specs=nosys.specs", "-Wl,--gc-sections", "-T", "board.ld"];
        var program = NativeCode.Tool(
            Compiler,
            [.. Flags, .. link, "-o", "board.elf", "./" + host, .. sources.Select(s => s + ".o"), "-lm"],
            folder,
            wanted
        );
        return (program with { Program = Path.Combine(folder, "board.elf") }, sizes);
    }

    static BoardSize SizeOf(string folder, string name, CancellationToken wanted)
    {
        var told = NativeCode.Tool("arm-none-eabi-size", [name], folder, wanted).Messages;
        var numbers = Regex.Match(told.Split('\n')[^1], @"^\s*(\d+)\s+(\d+)\s+(\d+)");
        long Number(int i) => long.Parse(numbers.Groups[i].Value, CultureInfo.InvariantCulture);
        return numbers.Success ? new BoardSize(Number(1) + Number(2), Number(2) + Number(3), 0) : new BoardSize(0, 0, 0);
    }

    /// <summary>How the board is started; an hour of computing is the most that one may be forgotten.</summary>
    public static IReadOnlyList<string> Command(string program) =>
        [
            "prlimit",
            "--cpu=3600",
            "--core=0",
            "--",
            Simulator,
            "-M",
            "mps2-an386",
            "-display",
            "none",
            "-monitor",
            "none",
            "-serial",
            "none",
            "-semihosting-config",
            "enable=on,target=native",
            "-icount",
            "shift=10,sleep=off",
            "-kernel",
            program,
        ];

    /// <summary>Where things lie on the board.</summary>
    const string Script = """
        MEMORY
        {
            code (rx) : ORIGIN = 0x00000000, LENGTH = 4M
            data (rw) : ORIGIN = 0x20000000, LENGTH = 4M
        }
        ENTRY(reset)
        SECTIONS
        {
            .text : { KEEP(*(.vectors)) *(.text*) *(.rodata*) *(.ARM.extab*) } > code
            .ARM.exidx : { *(.ARM.exidx*) } > code
            .data : { data_begin = .; *(.data*) . = ALIGN(4); data_end = .; } > data AT > code
            data_from = LOADADDR(.data);
            .bss (NOLOAD) : { bss_begin = .; *(.bss*) *(COMMON) . = ALIGN(8); bss_end = .; end = .; } > data
            stack_top = ORIGIN(data) + LENGTH(data);
        }

        """;

    /// <summary>Its surroundings: the debug link, the counter of the processor, and where it begins.</summary>
    public static readonly string Surroundings = """
        #define WORD(at) (*(volatile uint32_t *)(at))
        #define COUNT_CONTROL WORD(0xE000E010U)
        #define COUNT_RELOAD WORD(0xE000E014U)
        #define COUNT_NOW WORD(0xE000E018U)
        #define COPROCESSORS WORD(0xE000ED88U)
        /* The counter has 24 bits; one of its ticks takes 40 ns, an instruction 1024 ns. */
        #define TICKS 0xFFFFFFU
        #define PAINT 0x5A5A5A5AU
        #define STACK 65536U
        extern uint32_t data_begin, data_end, data_from, bss_begin, bss_end, stack_top;
        static uint32_t begun;
        static uint32_t overhead;
        static uint32_t from_host;
        static uint32_t to_host;
        /* What a debugger does for a program on a board: open, write and read files of the host. */
        static uint32_t asked(uint32_t what, const void *with)
        {
            register uint32_t r0 __asm__("r0") = what;
            register const void *r1 __asm__("r1") = with;
            __asm__ volatile("bkpt 0xAB" : "+r"(r0) : "r"(r1) : "memory");
            return r0;
        }
        static uint32_t opened(const char *name, uint32_t how)
        {
            const uint32_t file[3] = {(uint32_t)name, how, (uint32_t)strlen(name)};
            return asked(1U, file);
        }
        static uint8_t kept[8192];
        static uint32_t filled;
        static void flush(void)
        {
            const uint32_t block[3] = {to_host, (uint32_t)kept, filled};
            if (filled > 0U) { (void)asked(5U, block); }
            filled = 0U;
        }
        static void give(const void *from, size_t size)
        {
            const uint8_t *bytes = from;
            while (size > 0U) {
                const size_t room = sizeof kept - filled;
                const size_t part = (size < room) ? size : room;
                memcpy(&kept[filled], bytes, part);
                filled += (uint32_t)part;
                bytes += part;
                size -= part;
                if (filled == sizeof kept) { flush(); }
            }
        }
        static int take(void *to, size_t size)
        {
            uint8_t *bytes = to;
            while (size > 0U) {
                const uint32_t block[3] = {from_host, (uint32_t)bytes, (uint32_t)size};
                const uint32_t left = asked(6U, block);
                if (left == (uint32_t)size) { return 0; }
                bytes += size - left;
                size = left;
            }
            return 1;
        }
        static int next(void)
        {
            uint8_t byte = 0U;
            return (take(&byte, 1U) != 0) ? (int)byte : -1;
        }
        static void begin_count(void) { begun = COUNT_NOW; }
        static uint32_t ticks(void) { return (begun - COUNT_NOW) & TICKS; }
        static double counted(void)
        {
            const uint32_t all = ticks();
            return (double)(((all - overhead) * 40U) / 1024U);
        }
        static int32_t depth(void)
        {
            const uint32_t *at = &stack_top - (STACK / 4U);
            while ((at < &stack_top) && (*at == PAINT)) { at++; }
            return (int32_t)((uintptr_t)&stack_top - (uintptr_t)at);
        }
        int main(void);
        void reset(void);
        static void stop(void) { for (;;) { } }
        __attribute__((section(".vectors"), used)) static const void *const vectors[16] = {
            &stack_top, (const void *)reset, (const void *)stop, (const void *)stop, (const void *)stop, (const void *)stop,
            (const void *)stop, 0, 0, 0, 0, (const void *)stop, (const void *)stop, 0, (const void *)stop, (const void *)stop};
        void reset(void)
        {
            uint32_t *to;
            const uint32_t *from = &data_from;
            COPROCESSORS |= 0xF00000U;
            for (to = &data_begin; to < &data_end; to++) { *to = *from; from++; }
            for (to = &bss_begin; to < &bss_end; to++) { *to = 0U; }
            for (to = &stack_top - (STACK / 4U); to < (uint32_t *)__builtin_frame_address(0) - 16; to++) { *to = PAINT; }
            from_host = opened("/dev/stdin", 1U);
            to_host = opened("/dev/stdout", 5U);
            COUNT_RELOAD = TICKS;
            COUNT_NOW = 0U;
            COUNT_CONTROL = 5U;
            begin_count();
            overhead = ticks();
            (void)main();
            (void)asked(0x18U, (const void *)0x20026U);
            stop();
        }

        """;
}
