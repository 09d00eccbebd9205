import { QueryClientProvider } from "@tanstack/react-query";
import { answers } from "./api/answers";
import { StrictMode } from "react";
import { UNSAFE_PortalProvider as PortalProvider } from "react-aria";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";
import { HelpLine } from "./ui/HelpLine";
import { enterLast } from "./bench/theme";
import { Waiting } from "./screens/Waiting";
import "./styles/main.css";

enterLast();

const fault = <Waiting error={new Error("This page cannot be shown. Nothing of your work is lost: load it again.")} />;
const router = createBrowserRouter([
  {
    errorElement: fault,
    hydrateFallbackElement: <Waiting error={null} />,
    children: [
      { path: "/", lazy: async () => ({ Component: (await import("./screens/Projects")).Projects }) },
      { path: "/projects/:project", lazy: async () => ({ Component: (await import("./screens/ContactSheet")).ContactSheet }) },
      {
        path: "/projects/:project/shots/:shot",
        lazy: async () => ({ Component: (await import("./screens/BenchScreen")).BenchScreen }),
      },
      { path: "*", element: <Waiting error={new Error("There is nothing at this address.")} /> },
    ],
  },
]);

// what opens in front stays within the page's landmark
const inMain = () => document.querySelector("main");

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={answers}>
        <PortalProvider getContainer={inMain}>
          <RouterProvider router={router} />
          <HelpLine />
        </PortalProvider>
      </QueryClientProvider>
    </StrictMode>,
  );
}
