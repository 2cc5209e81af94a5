export async function runBenchmarks(_: string[]): Promise<void> {}
