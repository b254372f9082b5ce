using System;

namespace Halmere.Gangway.Passes
{
    /// <summary>What a person shows at a <see cref="Gate"/>.</summary>
    /// <param name="Holder">Who holds it.</param>
    /// <param name="ValidUntil">The last moment.</param>
    public record Pass(string Holder, DateTime ValidUntil)
    {
        /// <summary>Whether it can still be used.</summary>
        public bool IsValid => DateTime.UtcNow <= ValidUntil;

        /// <summary>A pass until midnight.</summary>
        /// <param name="holder">Who holds it.</param>
        public static Pass ForDay(string holder) => new Pass(holder, DateTime.UtcNow.Date.AddDays(1));

        /// <summary>The same pass for longer; see <see cref="ValidUntil"/>.</summary>
        /// <param name="pass">What to lengthen.</param>
        /// <param name="days">By how much.</param>
        public static Pass operator +(Pass pass, int days) => new Pass(pass.Holder, pass.ValidUntil.AddDays(days));
    }

    /// <summary>A gate refused a <see cref="Pass"/>.</summary>
    public class PassRefusedException : Exception
    {
        /// <summary>Makes the error.</summary>
        /// <param name="pass">What was refused.</param>
        public PassRefusedException(Pass pass) : base("the pass is refused") => Pass = pass;

        /// <summary>What was refused.</summary>
        public Pass Pass { get; }
    }

    /// <summary>Called before a pass is checked.</summary>
    /// <param name="pass">The pass.</param>
    public delegate void PassShown(Pass pass);

    /// <summary>Extra words for passes.</summary>
    public static class PassExtensions
    {
        /// <summary>Whether a pass ends today. Compare <see cref="Pass.IsValid"/>.</summary>
        /// <param name="pass">The pass.</param>
        public static bool EndsToday(this Pass pass) => pass.ValidUntil.Date == DateTime.UtcNow.Date;
    }
}
