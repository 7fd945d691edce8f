namespace Vellumkeep.Storage;

/// <summary>The tables. One model for both databases; each has its own migrations because their column types differ.</summary>
public abstract class KeepContext(DbContextOptions options) : DbContext(options)
{
    public DbSet<CommitRow> Commits => Set<CommitRow>();

    public DbSet<VersionRow> Versions => Set<VersionRow>();

    public DbSet<RecordRow> Records => Set<RecordRow>();

    public DbSet<LinkRow> Links => Set<LinkRow>();

    public DbSet<PrefixRow> Prefixes => Set<PrefixRow>();

    public DbSet<HeldRow> Held => Set<HeldRow>();

    public DbSet<LookupRow> Lookups => Set<LookupRow>();

    public DbSet<TunnelRow> Tunnels => Set<TunnelRow>();

    public DbSet<FindingRow> Findings => Set<FindingRow>();

    public DbSet<PersonRow> People => Set<PersonRow>();

    public DbSet<TokenRow> Tokens => Set<TokenRow>();

    /// <summary>The collation under which text orders by its bytes: addresses and times are compared as text.</summary>
    protected abstract string ByteOrder { get; }

    protected override void OnModelCreating(ModelBuilder b)
    {
        b.Entity<CommitRow>(e =>
        {
            e.HasKey(c => c.Number);
            e.Property(c => c.Number).ValueGeneratedNever();
            e.HasIndex(c => c.ChangeId);
        });
        b.Entity<VersionRow>(e =>
        {
            e.HasKey(v => new { v.RecordId, v.Version });
            e.HasIndex(v => v.CommitNumber);
            e.HasOne<CommitRow>().WithMany().HasForeignKey(v => v.CommitNumber);
        });
        b.Entity<RecordRow>(e =>
        {
            e.HasKey(r => r.Id);
            e.Property(r => r.Version).IsConcurrencyToken();
            e.HasIndex(r => new { r.Kind, r.CodeKey }).IsUnique();
            e.HasIndex(r => new { r.Kind, r.OwnerId });
        });
        b.Entity<LinkRow>(e =>
        {
            e.HasKey(l => new { l.FromId, l.ToId, l.Role });
            e.HasIndex(l => new { l.ToId, l.Role });
            e.HasOne<RecordRow>().WithMany().HasForeignKey(l => l.FromId);
            e.HasOne<RecordRow>().WithMany().HasForeignKey(l => l.ToId);
        });
        b.Entity<PrefixRow>(e =>
        {
            e.HasKey(p => p.Id);
            e.HasIndex(p => p.RecordId);
            e.HasIndex(p => new { p.GatewayId, p.Family, p.Low });
            e.HasIndex(p => new { p.Family, p.Low });
            e.Property(p => p.Low).UseCollation(ByteOrder);
            e.Property(p => p.High).UseCollation(ByteOrder);
            e.HasOne<RecordRow>().WithMany().HasForeignKey(p => p.RecordId);
        });
        b.Entity<HeldRow>(e =>
        {
            e.HasKey(h => new { h.GatewayId, h.Part, h.TunnelId });
            e.HasIndex(h => h.TunnelId);
        });
        b.Entity<LookupRow>(e =>
        {
            e.HasKey(l => new { l.GatewayId, l.Key, l.TunnelId, l.Held });
            e.HasIndex(l => l.TunnelId);
        });
        b.Entity<TunnelRow>(e =>
        {
            e.HasKey(t => t.Id);
            e.HasIndex(t => t.CheckAgainOn);
            e.HasOne<RecordRow>().WithMany().HasForeignKey(t => t.Id);
        });
        b.Entity<FindingRow>(e =>
        {
            e.HasKey(f => new { f.TunnelId, f.Code, f.Subject });
            e.HasIndex(f => f.Code);
            e.HasOne<RecordRow>().WithMany().HasForeignKey(f => f.TunnelId);
        });
        b.Entity<PersonRow>(e => e.HasKey(p => p.Name));
        b.Entity<TokenRow>(e =>
        {
            e.HasKey(t => t.Id);
            e.HasIndex(t => t.Hash).IsUnique();
            e.HasOne<PersonRow>().WithMany().HasForeignKey(t => t.Person);
        });
    }
}

/// <summary>SQLite: the default, in one folder.</summary>
public sealed class SqliteKeepContext(DbContextOptions<SqliteKeepContext> options) : KeepContext(options)
{
    protected override string ByteOrder => "BINARY";
}

/// <summary>PostgreSQL, by a connection string.</summary>
public sealed class PostgresKeepContext(DbContextOptions<PostgresKeepContext> options) : KeepContext(options)
{
    protected override string ByteOrder => "C";
}
