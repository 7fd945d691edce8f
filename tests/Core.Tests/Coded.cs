using Vellumkeep.Core.Findings;
using Vellumkeep.Core.Rehearsing;

namespace Vellumkeep.Core.Tests;

/// <summary>The code under which the catalogue tells of an obstacle.</summary>
internal static class Coded
{
    extension(Obstacle obstacle)
    {
        public string Code => Checks.CodeOf(obstacle);
    }
}
