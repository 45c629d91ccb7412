import { useQuery } from "@tanstack/react-query";
import { api, at, dataOf } from "./client";
import { keyOf, useRefresh, useTouched } from "./touched";

const LOOK_AGAIN_MS = 1500;

/** Who this device is to the server, and what it may do; a display only watches the brew. */
export function useThisDevice() {
  return useQuery({
    queryKey: keyOf("this-device"),
    staleTime: Infinity,
    retry: false,
    queryFn: async () => dataOf(await api.GET("/api/devices/current")),
  });
}

/** All devices; looked for again and again while one is awaited. */
export function useDevices(awaited: boolean) {
  return useQuery({
    queryKey: keyOf("devices"),
    queryFn: async () => dataOf(await api.GET("/api/devices")),
    refetchInterval: awaited ? LOOK_AGAIN_MS : false,
  });
}

/** Codes that are valid now; looked for again and again, as they are used and run out. */
export function usePairingCodes(asked: boolean) {
  return useQuery({
    queryKey: keyOf("devices", "codes"),
    enabled: asked,
    refetchInterval: LOOK_AGAIN_MS,
    queryFn: async () => dataOf(await api.GET("/api/pairing-codes")).codes,
  });
}

export function useCounters() {
  return useQuery({
    queryKey: keyOf("counters"),
    queryFn: async () => dataOf(await api.GET("/api/counters")).counters,
  });
}

export function useDeviceWrites() {
  const touched = useTouched("devices");
  return {
    showCode: async (role: "manager" | "barista") =>
      touched(dataOf(await api.POST("/api/pairing-codes", { body: { role } }))),
    withdrawCode: async (id: number) => {
      await api.DELETE("/api/pairing-codes/{id}", at(id));
      await touched(undefined);
    },
    changeRole: async (id: number, role: "manager" | "barista") =>
      touched(dataOf(await api.PATCH("/api/devices/{id}", { ...at(id), body: { role } }))),
    /** Where a device that is let in finds a station. */
    linkTo: async (station: string) =>
      touched(
        dataOf(await api.GET("/api/stations/{station}/link", { params: { path: { station: station as never } } })),
      ),
    addGuest: async () => touched(dataOf(await api.POST("/api/guest-links", { body: {} }))),
    revoke: async (id: number) => {
      await api.DELETE("/api/devices/{id}", at(id));
      await touched(undefined);
    },
  };
}

/** Counters: another one shows other work everywhere. */
export function useCounterWrites() {
  const refresh = useRefresh();
  return {
    choose: async (id: number) => {
      dataOf(await api.PUT("/api/counters/current", { body: { id } }));
      await refresh();
    },
    add: async (name: string) => {
      dataOf(await api.POST("/api/counters", { body: { name } }));
      void refresh();
    },
    remove: async (id: number) => {
      await api.DELETE("/api/counters/{id}", at(id));
      await refresh();
    },
    restore: async (id: number) => {
      dataOf(await api.POST("/api/counters/{id}/restore", at(id)));
      await refresh();
    },
  };
}
