interface ProcessorTime {
  all: number;
  stolen: number;
}
export function processorTime(text?: string | null): ProcessorTime | null;
export function stolenShare(from: ProcessorTime | null, to: ProcessorTime | null): number | null;
