using System;
using System.Collections.Generic;
using Halmere.Gangway.Passes;

namespace Halmere.Gangway
{
    /// <summary>What a gate is doing.</summary>
    public enum GateState
    {
        /// <summary>Nobody can pass.</summary>
        Shut = 0,

        /// <summary>Who has a <see cref="Pass"/> can pass.</summary>
        Open = 1,

        /// <summary>Everyone can pass; see <see cref="Gate.Release"/>.</summary>
        Released = 2,
    }

    /// <summary>Anything that lets people aboard.</summary>
    public interface IGate
    {
        /// <summary>What it is doing.</summary>
        GateState State { get; }

        /// <summary>Lets one person through.</summary>
        /// <param name="pass">What the person holds.</param>
        /// <returns>Whether the person may board.</returns>
        bool Admit(Pass pass);
    }

    /// <summary>
    /// One gate at one berth. It counts who passes.
    /// </summary>
    /// <remarks>
    /// <para>Use <see cref="Open()"/> before <see cref="Admit(Pass)"/>. A gate may be used by
    /// <c>one</c> thread.</para>
    /// <list type="table">
    /// <listheader><term>State</term><description>Meaning</description></listheader>
    /// <item><term><see cref="GateState.Shut"/></term><description>at night</description></item>
    /// <item><term><see cref="GateState.Open"/></term><description>while boarding</description></item>
    /// </list>
    /// </remarks>
    /// <example>
    /// <code>
    /// var gate = new Gate("Q2");
    /// gate.Open();
    /// gate.Admit(Pass.ForDay("Wren"));
    /// </code>
    /// </example>
    /// <seealso cref="Turnstile"/>
    public class Gate : IGate
    {
        /// <summary>Most people in one minute.</summary>
        public const int MaxPerMinute = 40;

        private readonly List<Pass> admitted = new List<Pass>();

        /// <summary>Makes a gate.</summary>
        /// <param name="berth">Where it stands.</param>
        /// <exception cref="ArgumentException">The name is empty.</exception>
        public Gate(string berth)
        {
            if (berth.Length == 0) throw new ArgumentException("a gate stands somewhere", nameof(berth));
            Berth = berth;
        }

        /// <summary>Where it stands.</summary>
        public string Berth { get; }

        /// <inheritdoc/>
        public GateState State { get; protected set; }

        /// <summary>How many have passed.</summary>
        public int Count => admitted.Count;

        /// <summary>Tells of everyone who passes.</summary>
        public event EventHandler<Pass> Admitted;

        /// <summary>Who passed as the n-th.</summary>
        /// <param name="index">From 0.</param>
        public Pass this[int index] => admitted[index];

        /// <summary>Opens the gate.</summary>
        public void Open() => State = GateState.Open;

        /// <summary>Opens the gate for a while; in an emergency see <see cref="ReleaseAll(string)"/>.</summary>
        /// <param name="span">How long.</param>
        public void Open(TimeSpan span) => State = GateState.Open;

        /// <summary>Lets everyone through, in an emergency.</summary>
        /// <param name="who">Who ordered it.</param>
        public virtual void ReleaseAll(string who) => State = GateState.Released;

        /// <inheritdoc/>
        /// <exception cref="PassRefusedException">The pass is refused.</exception>
        public virtual bool Admit(Pass pass)
        {
            if (State == GateState.Shut || !pass.IsValid) throw new PassRefusedException(pass);
            admitted.Add(pass);
            Admitted?.Invoke(this, pass);
            return true;
        }

        // Shuts the gate and forgets who has passed.
        public void Shut()
        {
            admitted.Clear();
            State = GateState.Shut;
        }
    }
}
