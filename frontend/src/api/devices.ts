import { useQuery } from "@tanstack/react-query";
import { api, dataOf } from "./client";

const LOOK_AGAIN_MS = 1500;

/** Who this device is to the server; a guest only watches the brew. */
export function useThisDevice() {
  return useQuery({
    queryKey: ["this-device"],
    staleTime: Infinity,
    retry: false,
    queryFn: async () => dataOf(await api.GET("/api/devices/current")),
  });
}

/** All devices; looked for again and again while one is awaited. */
export function useDevices(awaited: boolean) {
  return useQuery({
    queryKey: ["devices"],
    queryFn: async () => dataOf(await api.GET("/api/devices")),
    refetchInterval: awaited ? LOOK_AGAIN_MS : false,
  });
}

export function useCounters() {
  return useQuery({ queryKey: ["counters"], queryFn: async () => dataOf(await api.GET("/api/counters")).counters });
}
