export async function takeScreenshots(): Promise<void> {}
