using Halmere.Gangway.Passes;

namespace Halmere.Gangway
{
    /// <summary>A gate for one person at a time.</summary>
    /// <typeparam name="TReader">What reads the passes.</typeparam>
    public sealed class Turnstile<TReader> : Gate
        where TReader : IPassReader
    {
        private readonly TReader reader;

        /// <summary>Makes a turnstile.</summary>
        /// <param name="berth">Where it stands; see <see cref="Gate.Berth"/>.</param>
        /// <param name="scanner">What reads the passes.</param>
        public Turnstile(string berth, TReader reader) : base(berth) => this.reader = reader;

        /// <summary>Seconds that it stays unlocked.</summary>
        public int UnlockedSeconds { get; set; } = 5;

        /// <inheritdoc/>
        public override bool Admit(Pass pass) => base.Admit(pass);

        /// <summary>Reads a pass and lets its holder through.</summary>
        /// <returns>As <see cref="Gate.Admit(Pass)"/>.</returns>
        public bool Next() => Admit(reader.Read());
    }

    /// <summary>What reads passes.</summary>
    public interface IPassReader
    {
        /// <summary>Waits for the next pass.</summary>
        Pass Read();
    }
}
